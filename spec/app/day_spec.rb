# frozen_string_literal: true

require "support/web"

RSpec.describe "A day in class", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let!(:trainees) { %w[teo una vic].map { |login| make_trainee(login) } }
  let!(:course) { make_class(instructor, *trainees) }
  let(:attempts) { stores.attempts }
  let(:exams) { stores.exams }

  before { sign_in("ines") }

  def follow(...)
    send_form(...)
    follow_redirect!
    last_response.body
  end

  def exam_with(*stations) = make_exam(instructor, course, *stations)

  def hand_in(attempt, slip = Benches::Demo::SLIPS.first)
    demo.play(attempt, slip: slip)
    attempts.find(attempt.id)
  end

  it "gives practice to all at several stations with one press, each with a variant of their own" do
    rows = %i[rp_drawn dc_masked].map { |id| make_station(instructor, id) }
    get("/classes/#{course.id}/practice")
    expect(html.scan(/name="trainees\[\]" value="\d+" checked/).size).to eq(3)
    body =
      follow(
        "/classes/#{course.id}/practice",
        stations: rows.map { |row| row.id.to_s },
        trainees: trainees.map { |trainee| trainee.id.to_s }
      )
    expect(body).to include("6 practice benches are given: 2 stations to 3 trainees")
    expect(attempts.of_class(course).map { |attempt| [attempt.mode, attempt.status] }.tally).to eq(
      %w[practice assigned] => 6
    )
    expect(attempts.of_class(course).map(&:seed).uniq.size).to eq(6)
    send_form "/classes/#{course.id}/practice", trainees: ["5"]
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("at least one station").and include("at least one trainee")
  end

  it "tells before closing who works, is finished or absent, and keeps who never began out of marks and analysis" do
    exam = exam_with(:bottle_rinser, :ferry_quay)
    exams.open(exam, trainees)
    own = attempts.of_exam(exam).group_by(&:trainee_id)
    hand_in(own[trainees[0].id][0])
    attempts.begin(own[trainees[1].id][0], wall_ms)
    late = make_trainee("wim").tap { |person| stores.classes.add(course, person) }
    page = get("/exams/#{exam.id}/close").body
    expect(page).to match(%r{At work now.*<strong>1</strong>.*Una}m).and match(
            /Not at every station.*Teo/m
          ).and match(%r{Absent.*<strong>2</strong>.*Vic, #{late.name}}m)
    expect(exams.find(instructor, exam.id)).to be_open
    expect(follow("/exams/#{exam.id}/close")).to include("4 benches never begun stay out of marks")
    expect(attempts.of_exam(exam).map { |attempt| [attempt.trainee_name, attempt.status] }.tally).to eq(
      {
        %w[Teo submitted] => 1,
        %w[Teo unbegun] => 1,
        %w[Una submitted] => 1,
        %w[Una unbegun] => 1,
        %w[Vic absent] => 2
      }
    )
    expect(get("/classes/#{course.id}/items").body).to include("from 2 graded attempts")
    expect(get("/review").body).to satisfy { |body| !body.include?("Vic") }
    expect(get("/classes/#{course.id}/gradebook?state=absent").body).to include("Vic").and include("Absent")
    # An absent trainee sees so, and can be given the bench on another day.
    missed = attempts.of_exam(exam).find { |attempt| attempt.status == "absent" }
    expect(follow("/attempts/#{missed.id}/retest")).to include("is with the trainee")
    sign_in("vic", "1234")
    expect(get("/work").body).to include("Read and begin").and include("Absent")
  end

  it "publishes when all is graded, what needs a second look first, and takes it back for ten minutes" do
    clock = SetClock.new(Clock.wall_ms + 5_000)
    exam = exam_with(:bottle_rinser)
    exams.open(exam, trainees)
    one, two, three = attempts.of_exam(exam)
    hand_in(one)
    hand_in(two, Benches::Demo::SLIPS[1])
    attempts.begin(three, wall_ms)
    keeper.close(exam, wall_ms)
    # Nothing is graded yet: nothing is published.
    plain = Rack::MockRequest.new(Web::App)
    cookie = rack_mock_session.cookie_jar.for(URI("http://example.org/"))
    expect(DB[:grades].count).to eq(0)
    answer = plain.post("/exams/#{exam.id}/publish", "HTTP_COOKIE" => cookie, "HTTP_X_CSRF_TOKEN" => @token)
    expect([answer.status, attempts.of_exam(exam).map(&:status).uniq]).to eq([303, ["submitted"]])
    page = plain.get("/exams/#{exam.id}/publish", "HTTP_COOKIE" => cookie).body
    expect(page).to include("work-bar").and include("Waits for 3 grades").and include("disabled")
    page = get("/exams/#{exam.id}/publish").body
    expect(page).to satisfy { |body| !body.include?("work-bar") }
    expect(page.scan(/Failed outright|Near the pass mark/).size).to be >= 1
    expect(page.index("Failed outright")).to be < page.index(">Teo<")
    Clock.source = clock
    expect(follow("/exams/#{exam.id}/publish")).to include("3 results are published").and include("Take them back")
    clock.let_go_by(590_000)
    expect(follow("/exams/#{exam.id}/take-back")).to include("3 results are taken back")
    expect(attempts.of_exam(exam).map(&:status)).to eq(%w[submitted] * 3)
    follow("/attempts/#{one.id}/publish")
    expect(follow("/attempts/#{one.id}/take-back")).to include("Taken back")
    follow("/exams/#{exam.id}/publish")
    clock.let_go_by(610_000)
    expect(follow("/exams/#{exam.id}/take-back")).to include("ten minutes are over")
    expect(attempts.of_exam(exam).map(&:status)).to eq(%w[published] * 3)
    expect(get("/settings/audit").body).to include("took back")
  end

  it "changes a draft, copies an exam, and opens it by the clock at the centre's time" do
    stores.users.prefer(instructor, units: "psi", time_zone: "Atlantic/Azores")
    exam = exam_with(:bottle_rinser)
    other = make_station(instructor, :ferry_quay)
    form =
      Web::ExamForm
        .of(exam, stores.stations.of(instructor), TZInfo::Timezone.get("Atlantic/Azores"))
        .raw
        .transform_keys(&:to_sym)
    expect(get("/exams/#{exam.id}/edit").body).to include("Spring exam")
    expect(
      follow(
        "/exams/#{exam.id}/edit",
        **form,
        title: "Summer exam",
        stations: [other.id.to_s],
        opens_at: "2027-07-01T08:30"
      )
    ).to include("Summer exam").and include("1 Jul, 08:30")
    expect(exams.find(instructor, exam.id)).to have_attributes(
      title: "Summer exam",
      opens_at: Time.utc(2027, 7, 1, 8, 30)
    )
    expect(exams.find(instructor, exam.id).station_list.map { |item| item[:title] }).to eq([other.title])
    send_form "/exams/#{exam.id}/edit", **form, opens_at: "soon"
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("like 2026-05-04 08:30")

    clock = SetClock.new(Time.utc(2027, 7, 1, 8, 29, 59).to_i * 1000)
    Clock.source = clock
    runner = Work::Runner.new(stores, keeper)
    runner.tick
    expect(exams.find(instructor, exam.id)).to be_draft
    clock.let_go_by(3_000)
    runner.tick
    expect(exams.find(instructor, exam.id)).to be_open
    expect(attempts.of_exam(exam).size).to eq(3)
    # An open exam is not changed any more; a copy is a draft again, with other variants.
    sign_in("ines")
    expect(get("/exams/#{exam.id}/edit").status).to eq(404)
    body = follow("/exams/#{exam.id}/copy")
    expect(body).to include("Summer exam (copy)")
    copy = exams.of(instructor).max_by(&:id)
    expect([copy.draft?, copy.station_list, copy.seed == exam.seed]).to eq(
      [true, exams.find(instructor, exam.id).station_list, false]
    )
  end

  it "sees latecomers in the room and lets them in there, and gives time to one or all, and says so" do
    exam = exam_with(:bottle_rinser)
    exams.open(exam, trainees)
    begun = attempts.of_exam(exam).map { |attempt| attempts.begin(attempt, wall_ms) }
    late = make_trainee("wim").tap { |person| stores.classes.add(course, person) }
    expect(get("/exams/#{exam.id}/benches").body).to include("on the roster without a bench: Wim").and include(
            "Let them in"
          )
    expect(follow("/exams/#{exam.id}/open")).to include("Everybody on the roster has benches now")
    expect(attempts.of_exam(exam).map(&:trainee_id)).to include(late.id)
    expect(get("/exams/#{exam.id}/benches").body).to satisfy { |body| !body.include?("without a bench") }
    before = begun.map { |attempt| attempts.find(attempt.id).extra_ms }
    expect(follow("/exams/#{exam.id}/extend", minutes: "5")).to include("5 minutes more for every bench").and include(
            "(4)"
          )
    expect(begun.map { |attempt| attempts.find(attempt.id).extra_ms }).to eq(before.map { |extra| extra + 300_000 })
    expect(follow("/exams/#{exam.id}/extend", minutes: "3", some: "1", benches: [begun[1].id.to_s])).to include(
      "3 minutes more for 1 of 4 benches"
    )
    expect(attempts.find(begun[1].id).extra_ms).to eq(480_000)
    send_form "/exams/#{exam.id}/extend", minutes: "many", some: "1"
    expect(last_response.body).to include("whole minutes from 1 to 120").and include(
            "at least one bench"
          ).and include('value="many"')
    expect(follow("/attempts/#{begun[0].id}/extend", minutes: "7")).to include("7 minutes more for Teo")
    expect(attempts.find(begun[0].id).extra_ms).to eq(720_000)
  end

  it "asks before an empty report is handed in, and says what stands nowhere in it" do
    attempt = begin_attempt(instructor, trainees[0])
    sign_in("teo", "1234")
    question = -> { get("/attempts/#{attempt.id}/bench").body[/id="hand_in_words".*?data-words="([^"]+)"/m, 1] }
    expect(question.call).to eq(
      "Your report has nothing off the plate, no reading, no verdict and no signature. " \
        "Hand in? After this nothing can be changed."
    )
    fields = {make: "K", check_valve_1_apparent: "8.0", overall: "pass", signature: "Teo"}
    fields.each_with_index do |(field, value), seq|
      send_form "/attempts/#{attempt.id}/actions",
        kind: "fill",
        field: field,
        value: value,
        action_id: "f#{seq}",
        seq: seq,
        seen_ms: 0
    end
    expect(last_response.body).to include("Hand in? After this").and satisfy { |body|
      !body.include?("Your report has")
    }
    expect(question.call).to eq("Hand in? After this nothing can be changed.")
  end

  it "renames a trainee, puts two entries of one person together with what both did, and moves one to another class" do
    classes = stores.classes
    teo, una, = trainees
    double = make_trainee("theo").tap { |person| classes.add(course, person) }
    one = begin_attempt(instructor, teo, mode: "practice")
    two = begin_attempt(instructor, double, mode: "practice")
    DB[:attempts].where(id: [one.id, two.id]).update(class_id: course.id)
    expect(follow("/classes/#{course.id}/members/#{teo.id}/rename", name: "Tobias\u00A0Pell")).to include(
      "Teo is Tobias Pell now"
    )
    send_form "/classes/#{course.id}/members/#{una.id}/rename", name: "tobias pell"
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("is in the class already")
    expect(follow("/classes/#{course.id}/members/#{teo.id}/merge", other_id: double.id)).to include(
      "What Theo did is Tobias Pell&#39;s now"
    ).or include("What Theo did is Tobias Pell's now")
    expect(attempts.of_member(course, teo).map(&:id)).to contain_exactly(one.id, two.id)
    expect(classes.members(course).map(&:name)).to eq(["Tobias Pell", "Una", "Vic"])
    expect(stores.users.find(double.id)).to be_nil
    evening = make_class(instructor, name: "Evening testers")
    expect(follow("/classes/#{course.id}/members/#{teo.id}/move", class_id: evening.id)).to include(
      "is in Evening testers now"
    )
    expect(attempts.of_member(evening, teo).map(&:id)).to contain_exactly(one.id, two.id)
    # Not into a class of somebody else.
    other = make_class(make_instructor("otto"), name: "Not mine")
    send_form "/classes/#{course.id}/members/#{una.id}/move", class_id: other.id
    expect(last_response.status).to eq(422)
  end

  it "says so where a field and a file are both filled, and keeps what was typed" do
    file = Rack::Test::UploadedFile.new(StringIO.new("Bo Quill\n"), "text/csv", original_filename: "x.csv")
    send_form "/classes/#{course.id}/roster", roster: "Asa Pell", file: file
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("a file as well").and include("Asa Pell")
    send_form "/classes/#{course.id}/roster", roster: (1..200).map { |number| "Person #{number}" }.join("\n")
    expect(last_response.body).to include("takes 120 at a time")
    expect(stores.classes.members(course).size).to eq(3)
  end

  it "keeps a number with a comma as it was meant" do
    rows = [make_station(instructor)]
    send_form "/classes/#{course.id}/exams",
      title: "Comma",
      name: "Standard",
      stations: rows.map { |row| row.id.to_s },
      w_procedure: "0,5",
      w_readings: "25",
      w_judgement: "25",
      w_records: "10",
      pass_mark: "72,5",
      tolerance_psid: "0,2",
      retest: "once"
    policy = exams.of(instructor).first.policy
    expect([policy.weights[:procedure], policy.pass_mark, policy.tolerance_psid]).to eq([0.5, 72.5, 0.2])
  end

  it "finds results by trainee or station title, and by nothing else of a station's file" do
    exam = exam_with(:bottle_rinser)
    exams.open(exam, trainees)
    found = ->(query) { get("/classes/#{course.id}/gradebook?q=#{query}").body[/<p>(\d+) result/, 1].to_i }
    title = attempts.of_exam(exam).first.station.title
    expect(
      [found.call(title), found.call("una"), found.call("five_valve"), found.call("pressure"), found.call("%25")]
    ).to eq([3, 1, 0, 0, 0])
  end

  it "speaks of another page only where another page was" do
    attempt = begin_attempt(instructor, trainees[0], mode: "practice")
    sign_in("teo", "1234")
    act = ->(window, number, seq) do
      send_form(
        "/attempts/#{attempt.id}/actions",
        kind: "turn",
        valve: "test_cock_#{number}",
        to: "1.0",
        action_id: "#{window}-#{number}",
        seq: seq,
        seen_ms: 0
      ).body
    end
    act.call("aaaa", 1, 0)
    # The answer was lost on its way: the same page does not know of its own act.
    expect(act.call("aaaa", 2, 0)).to include("The connection faltered").and include("was not done")
    expect(get("/attempts/#{attempt.id}/frames?seq=0&window=aaaa").body).to include("The connection faltered")
    expect(act.call("bbbb", 3, 0)).to include("moved on in another window")
    sign_in("ines")
    send_form "/attempts/#{attempt.id}/inject", what: "swing", action_id: "x"
    sign_in("teo", "1234")
    expect(get("/attempts/#{attempt.id}/frames?seq=1&window=aaaa").body).to include(
      "Something has happened at the bench"
    )
  end

  it "makes cards and lists with every name, in whatever letters it is written" do
    names = ["Łukasz Šimek", "Ćira Öğün", "Őrs Žák", "Νίκος Παπάς", "Олег Жуков"]
    stores.classes.enrol(course, names.map { |name| {name: name, pin: nil} })
    %w[cards.pdf members.pdf].each do |file|
      pdf = get("/classes/#{course.id}/#{file}").body
      expect(pdf.force_encoding("BINARY").scan("FontDescriptor").size).to be_positive, file
    end
    missing =
      Pdf::Font::FILES.flat_map do |style, path|
        names.join.delete(" ").chars.uniq.reject { |letter| glyph?(path, letter) }.map { |letter| [style, letter] }
      end
    expect(missing).to eq([])
  end

  # Whether a shipped font has a glyph for this letter.
  def glyph?(path, letter)
    @fonts ||= {}
    file = (@fonts[path] ||= TTFunk::File.open(path))
    file.cmap.unicode.first[letter.ord].to_i.positive?
  end
end
