# frozen_string_literal: true

require "support/web"

# Coming in, and being kept out.
RSpec.describe "The door", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let!(:trainee) { make_trainee }
  let(:course) { make_class(instructor, trainee) }

  def enter(login, password, **fields)
    clear_cookies unless fields.delete(:same_device)
    @token = get("/sign-in").body[/X-CSRF-Token":"([^"]+)"/, 1]
    post "/sign-in",
      {login: login, password: password, **fields.except(:from)},
      "HTTP_X_CSRF_TOKEN" => @token,
      "REMOTE_ADDR" => fields.fetch(:from, "10.1.1.1"),
      **fields.fetch(:env, {})
    last_response
  end

  it "ends every other session with a new password, and this one with signing out" do
    sign_in("ines")
    first = rack_mock_session.cookie_jar.dup
    sign_in("ines")
    second = rack_mock_session.cookie_jar.dup
    send_form "/settings/password", now: "correct horse", password: "battery staple"
    expect(get("/today").status).to eq(200)
    rack_mock_session.instance_variable_set(:@cookie_jar, first)
    expect(get("/today").status).to eq(302)
    rack_mock_session.instance_variable_set(:@cookie_jar, second)
    copy = rack_mock_session.cookie_jar.dup
    send_form "/sign-out"
    rack_mock_session.instance_variable_set(:@cookie_jar, copy)
    expect(get("/today").status).to eq(302)
  end

  it "sends a session again when something in it has changed, and once a day so that it lasts" do
    clock = SetClock.new.tap { |set| Clock.source = set }
    sent = ->(path) { get(path) && [last_response.headers["set-cookie"]].flatten.compact.grep(/nurv\.session/) }
    sign_in("ines")
    expect(Array.new(3) { sent.call("/today").size }.last(2)).to eq([0, 0])
    # What is told once is no longer in it when it has been told.
    send_form "/settings", units: "kpa", time_zone: "UTC"
    expect([last_response.status, sent.call("/today").size]).to eq([302, 1])
    expect(sent.call("/today")).to be_empty
    sign_in("teo", "1234")
    sent.call("/work")
    expect(sent.call("/work")).to be_empty
    clock.let_go_by(24 * 3_600_000)
    again = sent.call("/work")
    expect(again.size).to eq(1)
    expect(Time.parse(again.first[/expires=([^;]+)/i, 1])).to be_within(60).of(Time.now + 30 * 86_400)
    expect(sent.call("/work")).to be_empty
  end

  it "forgets an instructor after a working day without use, and keeps a trainee's tablet for weeks" do
    clock = SetClock.new.tap { |set| Clock.source = set }
    instructor
    course
    sign_in("ines")
    clock.let_go_by(11 * 3_600_000)
    expect(get("/today").status).to eq(200)
    clock.let_go_by(11 * 3_600_000)
    expect(get("/today").status).to eq(200)
    clock.let_go_by(13 * 3_600_000)
    expect(get("/today").status).to eq(302)
    sign_in("teo", "1234")
    clock.let_go_by(20 * 24 * 3_600_000)
    expect(get("/work").status).to eq(200)
    clock.let_go_by(31 * 24 * 3_600_000)
    expect(get("/work").status).to eq(302)
  end

  it "ends a trainee's sessions when a new PIN is given, and no stranger gets in by the code before the card is read" do
    stores.classes.enrol(course, [{name: "Asa Pell", pin: "4821"}])
    asa = stores.classes.member_named(course, "Asa Pell")
    enter("Asa Pell", "4821", code: course.join_code)
    expect(get("/work").status).to eq(200)
    tablet = rack_mock_session.cookie_jar.dup
    sign_in("ines")
    send_form "/classes/#{course.id}/members/#{asa.id}/pin"
    follow_redirect!
    pin = stores.classes.member_named(course, "Asa Pell").card_pin
    expect(last_response.body).to include("new PIN of Asa Pell is #{pin}")
    rack_mock_session.instance_variable_set(:@cookie_jar, tablet)
    expect(get("/work").status).to eq(302)
    wrong = %w[4821 7777].map { |other| enter("Asa Pell", other, code: course.join_code).status }
    expect(wrong).to eq([422, 422])
    expect(enter("Asa Pell", pin, code: course.join_code).status).to eq(302)
  end

  it "is the same for a trainee with a code and without, and remembers the device until sign-out" do
    stores.classes.enrol(course, [{name: "Asa Pell", pin: "4821"}])
    expect(enter("asa pell", "4821").status).to eq(302)
    expect(enter("asa pell", "4821", code: course.join_code).status).to eq(302)
    @token = get("/work").body[/X-CSRF-Token":"([^"]+)"/, 1]
    rack_mock_session.cookie_jar.delete("nurv.session")
    expect(get("/sign-in").body).to include("value=\"Asa Pell\"").and include("value=\"#{course.join_code}\"")
    @token = last_response.body[/X-CSRF-Token":"([^"]+)"/, 1]
    send_form "/sign-out"
    expect(get("/sign-in").body).to satisfy { |body| !body.include?("Asa Pell") }
  end

  it "slows down a guesser, however they forge address, path and name, and never the owner's own tablet" do
    clock = SetClock.new.tap { |set| Clock.source = set }
    stores.classes.enrol(course, [{name: "Asa Pell", pin: "4821"}])
    enter("Asa Pell", "4821", code: course.join_code, from: "10.1.1.9")
    tablet = rack_mock_session.cookie_jar.dup
    answers =
      Array.new(30) do |number|
        name = ["Asa Pell", "asa  pell", "ASA\u00A0PELL", " Asa Pell\u200B "][number % 4]
        enter(
          name,
          format("%04d", number),
          code: course.join_code,
          env: {
            "HTTP_X_FORWARDED_FOR" => "10.9.9.#{number}",
            "HTTP_FORWARDED" => "for=10.8.8.#{number}",
            "HTTP_CLIENT_IP" => "10.7.7.#{number}"
          }
        ).status
      end
    expect(answers.first(5)).to all(eq(422))
    expect(answers.drop(6)).to all(eq(429))
    expect(last_response["retry-after"].to_i).to be_positive
    expect(last_response.body).to include("Wait")
    # A path written otherwise is the same route, or none.
    %w[/sign%2Din /%73ign-in /sign-in/].each do |path|
      clear_cookies
      token = get("/sign-in").body[/X-CSRF-Token":"([^"]+)"/, 1]
      post path,
        {login: "Asa Pell", password: "4821", code: course.join_code},
        "HTTP_X_CSRF_TOKEN" => token,
        "REMOTE_ADDR" => "10.1.1.1"
      expect(last_response.status).to eq(429).or(eq(404)), path
    end
    # From many places at once a name gets slow for strangers, but not for the device its owner came with.
    15.times { |number| enter("Asa Pell", "0000", code: course.join_code, from: "10.2.2.#{number}") }
    expect(last_response.status).to eq(429)
    rack_mock_session.instance_variable_set(:@cookie_jar, tablet)
    expect(enter("Asa Pell", "4821", code: course.join_code, from: "10.1.1.9", same_device: true).status).to eq(302)
    clock.let_go_by(21_000)
    expect(enter("Asa Pell", "4821", code: course.join_code, from: "10.3.3.3").status).to eq(302)
  end

  it "counts tries at one person's PIN together, with a code, without, or by the name they sign in with" do
    stores.classes.enrol(course, [{name: "Asa Pell", pin: "4821"}])
    login = DB[:users].where(name: "Asa Pell").get(:login)
    ways = [["Asa Pell", {code: course.join_code}], ["asa pell", {}], [login, {}]]
    answers = Array.new(9) { |number| ways[number % 3].then { |name, fields| enter(name, "0000", **fields).status } }
    expect(answers.first(5)).to all(eq(422))
    expect(answers.last(3)).to all(eq(429))
  end

  it "lets a code fill a class, and no more than that" do
    stub_const("Store::Classes::MOST", 2)
    expect(enter("Mo Quist", "2468", code: course.join_code, fresh: "1").status).to eq(302)
    expect(enter("No Quist", "2468", code: course.join_code, fresh: "1").body).to include("This class is full")
  end

  it "believes a forwarded address from a proxy of ours alone" do
    settings =
      Settings.new(
        {"NURV_PROXY" => "127.0.0.1, 10.5.0.0/16", "NURV_DATABASE" => SETTINGS.database, "APP_ENV" => "test"}
      )
    expect(["127.0.0.1", "10.5.3.2", "10.6.0.1", "nonsense", ""].map { |address| settings.proxy?(address) }).to eq(
      [true, true, false, false, false]
    )
    expect { Settings.new({"NURV_PROXY" => "everyone", "NURV_DATABASE" => SETTINGS.database}) }.to raise_error(
      Settings::Wrong,
      /NURV_PROXY/
    )
  end

  it "compares as many PINs for a name that is not there as for one that is" do
    stores.classes.enrol(course, [{name: "Asa Pell", pin: "4821"}])
    compared = []
    counting = Module.new { define_method(:is_password?) { |secret| compared << secret && super(secret) } }
    stub_const("BCrypt::Password", Class.new(BCrypt::Password) { prepend counting })
    ["Asa Pell", "Nobody Here", "teo", "ines"].map do |name|
      compared.clear
      enter(name, "wrong-one")
      compared.size
    end
      .then { |counts| expect(counts.uniq.size).to eq(1) }
    expect(BCrypt::Password.new(Store::Users::DUMMY).cost).to eq(Store::Users::COST)
  end

  it "lets one of many at once make the first account, and only with the code" do
    CleanDatabase.clean
    File.delete(stores.setup_code.path) if File.exist?(stores.setup_code.path)
    @token = get("/setup").body[/X-CSRF-Token":"([^"]+)"/, 1]
    fields = {name: "Ines Marr", login: "ines", password: "correct horse"}
    expect(send_form("/setup", **fields, setup_code: "").status).to eq(422)
    expect(send_form("/setup", **fields, setup_code: "AAAA-BBBB").status).to eq(422)
    expect(DB[:users].count).to eq(0)
    made =
      Array
        .new(6) do |number|
          Thread.new do
            stores.users.create_first(name: "P#{number}", login: "p#{number}", password: "correct horse")
          end
        end
        .map(&:value)
    expect(made.compact.size).to eq(1)
    expect(DB[:users].where(admin: true).count).to eq(1)
    expect(stores.setup_code.current).to be_nil
    expect(stores.setup_code.right?("")).to be(false)
  end

  it "shows its own names alike: a space that does not break is a space" do
    stores.classes.enrol(course, [{name: "Asa Pell", pin: "4821"}])
    sign_in("ines")
    send_form "/classes/#{course.id}/roster", roster: "Asa\u00A0Pell\nAsa\u200B Pell\nＡsa Pell\n"
    expect(last_response.status).to eq(422)
    expect(last_response.body.scan("is in the class already").size).to be >= 1
    expect(stores.classes.members(course).size).to eq(2)
  end

  it "sends nobody elsewhere by a forged host, and is kept by no cache" do
    sign_in("ines")
    get "/", {}, "HTTP_HOST" => "evil.example"
    expect(last_response["location"]).to eq("/today")
    get "/today"
    expect(last_response["cache-control"]).to eq("no-store")
    expect(last_response["referrer-policy"]).to eq("same-origin")
    expect(last_response["x-content-type-options"]).to eq("nosniff")
    expect(last_response["strict-transport-security"]).to be_nil
    expect(get("/classes/#{course.id}/cards.pdf")["cache-control"]).to eq("no-store")
    https = Web::Middleware::Manners.new(->(_) { [200, {}, []] }, https: true).call({})[1]
    expect(https["strict-transport-security"]).to include("max-age")
  end

  it "keeps its files to itself" do
    expect(
      Dir["#{SETTINGS.database}*", File.join(SETTINGS.home, "session_secret")].map do |path|
        File.stat(path).mode & 0o077
      end
    ).to all(eq(0))
  end

  it "writes a line for each request, with who and how long, and no secrets" do
    out = StringIO.new
    app = Web::Middleware::RequestLog.new(Web::App, out: out)
    course
    session = Rack::MockRequest.new(app)
    session.get("/c/#{course.join_code}")
    session.post("/sign-in", params: {login: "teo", password: "1234"})
    app.call(Rack::MockRequest.env_for("/health").merge("PATH_INFO" => "/health\n\e[31mforged"))
    expect(out.string.lines.size).to eq(3)
    expect(out.string.lines).to all(match(/\A\S+Z user=\S+ (GET|POST) \S+ \d+ \d+ms\n\z/))
    expect(out.string).to satisfy { |text| !text.include?(course.join_code) && !text.include?("1234") }
  end
end

RSpec.describe "Who may work at a bench", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let!(:trainee) { make_trainee }
  let(:attempts) { stores.attempts }

  it "is not the trainee of a proctor's sheet" do
    sheet = begin_attempt(instructor, trainee, mode: "proctor")
    sign_in("teo", "1234")
    [
      ["actions", {kind: "turn", valve: "test_cock_4", to: "1", action_id: "a", seq: 0}],
      ["actions", {kind: "submit", action_id: "a", seq: 0}],
      ["skip", {}],
      ["back", {}],
      ["over", {}],
      ["begin", {}]
    ].each do |route, fields|
      send_form "/attempts/#{sheet.id}/#{route}", **fields
      expect(last_response.status).to eq(404), route
    end
    %w[bench frames hint start].each do |route|
      expect(get("/attempts/#{sheet.id}/#{route}").status).to eq(404), route
    end
    expect(attempts.find(sheet.id)).to have_attributes(status: "started", last_seq: 0)
  end

  it "is not who was taken off the roster: what was done by then counts" do
    course = make_class(instructor, trainee)
    exam = make_exam(instructor, course, :bottle_rinser, :ferry_quay)
    stores.exams.open(exam, [trainee])
    begun, other = attempts.of_exam(exam)
    attempts.begin(begun, wall_ms)
    sign_in("ines")
    send_form "/classes/#{course.id}/members/#{trainee.id}/remove"
    expect(attempts.find(begun.id).status).to eq("submitted")
    expect(attempts.find(other.id).status).to eq("left")
    sign_in("teo", "1234")
    send_form "/attempts/#{begun.id}/actions", kind: "turn", valve: "test_cock_4", to: "1", action_id: "a", seq: 1
    expect(last_response.headers["HX-Redirect"]).to end_with("/result")
    send_form "/attempts/#{other.id}/begin"
    expect(attempts.find(other.id).status).to eq("left")
  end

  it "gets no help at practice while they sit in an exam" do
    practice = begin_attempt(instructor, trainee, mode: "practice")
    sign_in("teo", "1234")
    expect(get("/attempts/#{practice.id}/hint").status).to eq(200)
    done = begin_attempt(instructor, trainee, mode: "practice")
    send_form "/attempts/#{done.id}/actions", kind: "submit", action_id: "s", seq: 0, seen_ms: 0
    expect(get("/attempts/#{done.id}/result").status).to eq(200)
    exam = begin_attempt(instructor, trainee)
    # What a result says of the steps is help too.
    %w[result replay report report.pdf score-sheet.pdf].each do |route|
      expect(get("/attempts/#{done.id}/#{route}").status).to eq(403), route
    end
    %w[bench frames hint].each { |route| expect(get("/attempts/#{practice.id}/#{route}").status).to eq(403), route }
    expect(get("/attempts/#{exam.id}/bench").status).to eq(200)
  end

  it "sees in an exam's page no more of the needle than the face shows" do
    needle = ->(attempt) do
      JSON.parse(
        CGI.unescapeHTML(
          get("/attempts/#{attempt.id}/frames?seq=#{attempts.find(attempt.id).last_seq}").body[
            /data-frames='([^']+)'/,
            1
          ]
        )
      )[
        "needle"
      ].map(&:last)
    end
    exam = begin_attempt(instructor, trainee)
    attempts
      .find(exam.id)
      .then do |attempt|
        keeper.of(attempt).do_again(
          attempt,
          Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first).run.log.first(40)
        )
      end
    attempts.change_clock(exam.id) { |clock| clock.skip(attempts.log(exam).last_ms) }
    sign_in("teo", "1234")
    shown = needle.call(exam)
    expect(shown.map { |psid| (psid / 0.02 - (psid / 0.02).round).abs }).to all(be < 1.0e-6)
    expect(shown.max).to be > 0.1
  end

  it "starts no clock by looking: a proctor's sheet begins when its proctor says so" do
    sheet = make_attempt(instructor, trainee, mode: "proctor")
    sign_in("ines")
    expect(get("/proctor/#{sheet.id}").body).to include("Begin")
    expect(attempts.find(sheet.id)).to be_assigned
    send_form "/proctor/#{sheet.id}/begin"
    expect(attempts.find(sheet.id)).to be_started
  end

  it "is looked at even where nothing can be written" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    DB[:attempts].where(id: attempt.id).update(seen_wall_ms: wall_ms - 10_000)
    DB[:sessions].update(seen_ms: wall_ms - 3_600_000)
    locked = SQLite3::Database.new(SETTINGS.database).tap { |other| other.execute("BEGIN IMMEDIATE") }
    stub_const("Store::Attempts::SEEN_EVERY_MS", 0)
    DB.synchronize { |connection| connection.busy_handler_timeout = 50 }
    page =
      Rack::MockRequest.new(Web::App).get(
        "/attempts/#{attempt.id}/bench",
        "HTTP_COOKIE" => rack_mock_session.cookie_jar.for(URI("http://example.org/"))
      )
    expect(page.status).to eq(200)
  ensure
    DB.synchronize { |connection| connection.busy_handler_timeout = 5_000 }
    locked.rollback
  end
end
