# frozen_string_literal: true

require "support/web"
require "nokogiri"

RSpec.describe "Acting at a bench over HTTP", :web do
  include Requests

  let(:instructor) { make_instructor }
  let(:trainee) { make_trainee }

  def act(attempt, kind, id: SecureRandom.uuid, seq: stores.attempts.find(attempt.id).last_seq, **fields)
    post "/attempts/#{attempt.id}/actions",
      {kind: kind, action_id: id, seq: seq, seen_ms: 0, **fields},
      "HTTP_X_CSRF_TOKEN" => @token
    last_response
  end

  def events(attempt) = DB[:events].where(attempt_id: attempt.id).count

  it "applies a repeated request once" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    2.times { act(attempt, "turn", id: "same", seq: 0, valve: "test_cock_4", to: "1.0", speed: "normal") }
    expect(last_response).to be_ok
    expect(events(attempt)).to eq(1)
  end

  it "takes a loose note, marks it nowhere, and lays the notebook beside the report" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    body = act(attempt, "jot", item: "loose", value: "drips at TC3?").body
    notes = ->(html) { Nokogiri::HTML(html).css("#report_notes li").map { |item| item.text.strip } }
    expect(notes.call(body)).to eq(["Loose note drips at TC3?"])
    act(attempt, "jot", item: "check_valve_1_apparent", value: "8.0")
    get "/attempts/#{attempt.id}/bench"
    expect(notes.call(last_response.body).last).to match(/CV1.* 8\.0\z/)

    log = Nurv::Expert::Truth.of(attempt.variant, attempt.procedures.first).run.log.to_a
    jotted = log.index { |action| action.kind == :jot }
    loose = Nurv::Bench::Action.new(kind: "jot", item: "loose", value: "12", at_ms: log[jotted].at_ms, id: "loose")
    graded = [log, log.dup.insert(jotted, loose)].map do |acts|
      Nurv::Grading::Grader.grade(attempt.variant, Nurv::Bench::Log.new(acts))
    end
    expect(graded.map(&:score).uniq).to eq([100.0])
  end

  it "answers with what an act changed, and draws nothing again that stands" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    get "/attempts/#{attempt.id}/bench"
    expect(last_response.body).to include("numeral", "kit-case", "c_test_cock_3", "c_hose_low")
    turned = act(attempt, "turn", valve: "test_cock_4", to: "1.0", speed: "normal").body
    expect(turned).to include("c_test_cock_4", "TC4, open").and not_include("numeral", "c_test_cock_3", "c_hose_low")
    moved = act(attempt, "connect", hose: "low", to: "test_cock_3").body
    expect(moved).to include("c_test_cock_3", "c_hose_low").and not_include("numeral", "kit-case")
  end

  it "reads in kPa from dial to grade where the instructor's gauges do, and keeps the unit with the number" do
    stores.users.prefer(instructor, units: "kpa", time_zone: "UTC")
    teacher = stores.users.find(instructor.id)
    policy = stores.policies.with_procedures(teacher, SHIPPED.policies.fetch(:standard))
    attempt =
      stores.attempts.create(
        station_row: make_station(teacher),
        instructor: teacher,
        trainee: trainee,
        mode: "practice",
        seed: 1,
        policy: policy
      )
    stores.attempts.begin(attempt, Clock.wall_ms)
    sign_in("teo", "1234")
    bench = get("/attempts/#{attempt.id}/bench").body
    expect(bench).to include(">100</text>", ">kPa</text>").and not_include("psid")
    act(attempt, "jot", item: "check_valve_1_apparent", value: "55,2")
    act(attempt, "fill", field: "check_valve_1_confirmed", value: "8.0 psid")
    act(attempt, "fill", field: "line_pressure", value: "414")
    act(attempt, "fill", field: "serial", value: "414")
    typed = stores.attempts.log(attempt).map { |action| action[:value] }
    expect(typed).to eq(["55,2 kPa", "8.0 psid", "414 kPa", "414"])
    act(attempt, "submit")
    result = get("/attempts/#{attempt.id}/result").body
    expect(result).to include("Recorded 55.2").and not_include("psid")
    expect(get("/attempts/#{attempt.id}/report").body).to include("at least 34.5 kPa")
  end

  it "coaches in practice from what this bench shows, asked or after each act, and never in an exam" do
    attempt = begin_attempt(instructor, trainee, mode: "practice", station: :boat_yard)
    sign_in("teo", "1234")
    expect(get("/attempts/#{attempt.id}/bench").body).to include("cut-none").and not_include("&quot;dirty&quot;")
    coached = ->(level, **more) { get("/attempts/#{attempt.id}/coach", {level: level, **more}).body }
    expect(coached.call("ask")).to include("Who should hear").and not_include("Ask before you shut")
    expect(coached.call("act")).to include("Ask before you shut", "Say to the people")
    said = act(attempt, "turn", valve: "test_cock_4", to: "1.0", speed: "normal", coach: "nudges").body
    expect(said).to include('data-mode="nudges"', "coach-ask").and not_include("coach-act")
    expect(act(attempt, "turn", valve: "test_cock_4", to: "0.0", speed: "normal").body).not_to include("coach-ask")
    expect(coached.call("why")).to include("The needle stands at 0.0 psid")
    exam = begin_attempt(instructor, make_trainee("other"), station: :boat_yard)
    sign_in("other", "1234")
    get "/attempts/#{exam.id}/coach?level=why"
    expect(last_response.status).to eq(404)
    expect(act(exam, "turn", valve: "test_cock_4", to: "1.0", speed: "normal", coach: "talks").body)
      .not_to include("coach")
  end

  it "opens a bench as it stood before a lost line's step, with one's own acts up to there, once it is handed in" do
    attempt = begin_attempt(instructor, trainee, mode: "practice")
    sign_in("teo", "1234")
    act(attempt, "look", at: "plate")
    act(attempt, "connect", hose: "low", to: "test_cock_3")
    act(attempt, "turn", valve: "test_cock_3", to: "1.0", speed: "normal")
    act(attempt, "submit")
    result = get("/attempts/#{attempt.id}/result").body
    expect(result).to include("Try again from here", "Why does the needle do that?")
    expect(send_form("/attempts/#{attempt.id}/take-up", line: "procedure.no_such_step").status).to eq(404)
    send_form "/attempts/#{attempt.id}/take-up", line: "procedure.flush"
    again = stores.attempts.of_trainee(trainee).find(&:started?)
    expect(last_response.location).to end_with("/attempts/#{again.id}/bench")
    expect(stores.attempts.log(again).map(&:kind)).to eq([:look])
    expect([again.mode, again.seed, again.exam_id]).to eq(["practice", attempt.seed, nil])
    expect(stores.attempts.find(attempt.id)).to be_submitted
  end

  it "tells a second window that the bench has moved on, and does not do what it asked" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    act(attempt, "turn", seq: 0, valve: "test_cock_4", to: "1.0", speed: "normal")
    answer = act(attempt, "turn", seq: 0, valve: "test_cock_3", to: "1.0", speed: "normal")
    expect(answer.body).to include("moved on in another window").and include("TC4, open")
    expect(events(attempt)).to eq(1)
    get "/attempts/#{attempt.id}/frames?seq=0"
    expect(last_response.body).to include("moved on in another window")
  end

  it "refuses the impossible with a reason and writes nothing" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    expect(act(attempt, "turn", valve: "test_cock_4", to: "7").body).to include("turns from shut to 1")
    expect(act(attempt, "turn", valve: "test_cock_4", to: "wide").body).to include("as a number")
    expect(act(attempt, "explode").body).to include("not something that can be done")
    expect(act(attempt, "disconnect", hose: "low").body).to include("is not on anything")
    expect(events(attempt)).to eq(0)
  end

  it "puts an act where the tester saw it, but never in the future nor long before the server's clock" do
    clock = SetClock.new
    Clock.source = clock
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    clock.let_go_by(100_000)
    {5_000 => 99_200, 99_900 => 99_900, 900_000 => 100_000}.each_with_index do |(seen, landed), index|
      post "/attempts/#{attempt.id}/actions",
        {
          kind: "turn",
          valve: "test_cock_#{index + 1}",
          to: "1.0",
          action_id: "t#{index}",
          seq: index,
          seen_ms: seen
        },
        "HTTP_X_CSRF_TOKEN" => @token
      expect(DB[:events].where(attempt_id: attempt.id).max(:at_ms)).to eq(landed)
    end
  end

  it "shows what was typed with its angle brackets made harmless" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    act(attempt, "fill", field: "remarks", value: "<x>8.0")
    get "/attempts/#{attempt.id}/bench"
    expect(last_response.body).to include("&lt;x&gt;8.0").and not_include("<x>8.0")
  end

  it "refuses a reading that is no number with a sentence, and takes what people write for one" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    ["n/a", "0x8", "eight", "<x>8.0"].each do |text|
      act(attempt, "fill", field: "check_valve_1_confirmed", value: text)
      expect(last_response.body).to include("cannot be read as a number").and include("8,0 psid")
    end
    expect(stores.attempts.find(attempt.id).last_seq).to eq(0)
    ["8.0!", "8 psid.", "55 kPa", "8,0", ""].each_with_index do |text, index|
      act(attempt, "fill", field: "check_valve_1_confirmed", value: text)
      expect(stores.attempts.find(attempt.id).last_seq).to eq(index + 1)
    end
    act(attempt, "fill", field: "relief_valve_opening", value: "did not open")
    expect(stores.attempts.find(attempt.id).last_seq).to eq(6)
  end

  it "takes nothing for done that no adopted procedure could ask for" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    act(attempt, "declare", what: "flush")
    act(attempt, "declare", what: "own_#{"x" * 200}")
    expect(stores.attempts.find(attempt.id).last_seq).to eq(0)
    act(attempt, "declare", what: "own_tag")
    act(attempt, "declare", what: "own_tag")
    expect(last_response.body).to include("done already")
    expect(stores.attempts.find(attempt.id).last_seq).to eq(1)
  end

  RSpec::Matchers.define_negated_matcher :not_include, :include

  it "turns away a write without the page's token" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    post "/attempts/#{attempt.id}/actions", kind: "turn", valve: "test_cock_1", to: "1", action_id: "x", seq: 0
    expect(last_response.status).to eq(403)
    expect(events(attempt)).to eq(0)
  end

  it "allows no inline script or style" do
    get "/sign-in"
    expect(last_response["content-security-policy"]).to include("script-src 'self'").and include("default-src 'none'")
    expect(last_response.body).not_to match(/<script(?![^>]*src)|\sstyle=|\son\w+=/)
  end

  it "keeps what was typed when a sign-in or an assignment is not good" do
    make_class(instructor, trainee)
    get "/sign-in"
    token = last_response.body[/name="authenticity_token" value="([^"]+)"/, 1]
    post "/sign-in", login: "nobody-here", password: "x", authenticity_token: token
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("nobody-here").and include("do not go together")

    station = make_station(instructor)
    sign_in("ines", "correct horse")
    post "/stations/#{station.id}/assign", {seed: "seven", mode: "exam"}, "HTTP_X_CSRF_TOKEN" => @token
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("seven").and include("whole number").and include("Choose who")
  end

  # Words and numbers that only somebody who knows the truth could write.
  it "betrays nothing in an exam: no fault, no truth, no more than about two seconds of what comes" do
    attempt = begin_attempt(instructor, trainee, mode: "exam", station: :ferry_quay)
    sign_in("teo", "1234")
    bodies = []
    ["/work", "/attempts/#{attempt.id}/bench", "/attempts/#{attempt.id}/frames?seq=0"].each do |path|
      bodies << get(path).body
    end
    bodies << act(attempt, "connect", hose: "high", to: "test_cock_2").body
    bodies << act(attempt, "turn", valve: "test_cock_2", to: "1.0", speed: "normal").body
    bodies << act(attempt, "look", at: "relief_port").body
    bodies << act(attempt, "tell", person: "occupant", topic: "shutdown").body
    bodies << act(attempt, "jot", item: "check_valve_1_apparent", value: "5").body
    bodies << act(attempt, "fill", field: "remarks", value: "none").body
    bodies << get("/attempts/#{attempt.id}/frames?seq=#{stores.attempts.find(attempt.id).last_seq}").body

    truth = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first)
    bodies.each do |body|
      expect(body).not_to match(/leak_k|spring_psid|opening_psid|severity|moderate|gross|seed|pressure_psi|truth/i)
      expect(body).not_to include(attempt.station.title)
      expect(body).not_to include("#{truth.values[:relief_valve_opening]} psid")
      body.scan(/data-frames='([^']+)'/) do |(json)|
        frames = JSON.parse(CGI.unescapeHTML(json))
        expect(frames["until_ms"] - frames["now_ms"]).to be <= 2_000
        expect(frames["needle"].map(&:first).max).to be <= frames["until_ms"]
        told = %w[from_ms until_ms needle outlets poppet tube seq now_ms left_ms rest blurred spits]
        expect(frames.keys - told).to be_empty
      end
    end
    %w[hint watch report score-sheet.pdf log.jsonl].each do |path|
      expect(get("/attempts/#{attempt.id}/#{path}").status).to eq(404), path
    end
    expect(get("/reference").body).to include("Not during an exam")
    expect(act(attempt, "inject", fault: "relief_valve_stuck", severity: "gross").body).to include(
      "not something that can be done"
    )
    %w[result replay?ms=0 start].each do |path|
      expect(get("/attempts/#{attempt.id}/#{path}").body).not_to include("CV2 fouled")
    end

    # The page itself names every fault there could be, in the same way for every station: the list cannot betray one.
    other = begin_attempt(instructor, trainee, mode: "exam", station: :bottle_rinser)
    lists =
      [attempt, other].map do |item|
        get("/attempts/#{item.id}/bench").body[%r{<select[^>]*id="f_diagnosis".*?</select>}m].gsub(
          %r{attempts/\d+},
          ""
        )
      end
    expect(lists[0]).to eq(lists[1])
  end

  # Whoever opens the page's source sees what the eyes see.
  it "holds the needle of an exam no sharper than the blur, as long as the port is watched" do
    attempt = begin_attempt(instructor, trainee, mode: "exam", station: :bottle_rinser)
    sign_in("teo", "1234")
    act(attempt, "connect", hose: "high", to: "test_cock_2")
    act(attempt, "turn", valve: "high_bleed", to: "2.4", speed: "normal")
    act(attempt, "turn", valve: "test_cock_2", to: "0.05", speed: "normal")
    Clock.source = SetClock.new(Clock::REAL.call + 4_000)
    bodies = [
      act(attempt, "watch", at: "relief_port").body,
      get("/attempts/#{attempt.id}/frames?seq=4").body,
      act(attempt, "turn", valve: "high_bleed", to: "2.3", over: "150", hand: "on").body,
      act(attempt, "turn", valve: "high_bleed", to: "2.2", speed: "normal").body,
      get("/attempts/#{attempt.id}/bench").body
    ]
    expect(bodies.join.scan("data-frames").size).to eq(5)
    bodies.each do |body|
      frames = JSON.parse(CGI.unescapeHTML(body[/data-frames='([^']+)'/, 1]))
      expect(frames["needle"].map { |_, psid| psid % 0.5 }).to all(eq(0.0))
      angles = body.scan(/data-needle transform="rotate\(([-\d.]+)\)/).flatten.map(&:to_f)
      expect(angles.map { |angle| ((angle + 135.0) / 18.0) % 0.5 }).to all(be_within(0.001).of(0.0))
    end
    # The instructor's room sees where it stands.
    shown = stores.attempts.find(attempt.id).needle_psid
    expect(shown % 0.5).not_to eq(0.0)
    act(attempt, "watch", at: "gauge")
    page = get("/attempts/#{attempt.id}/bench").body
    expect(JSON.parse(CGI.unescapeHTML(page[/data-frames='([^']+)'/, 1]))).not_to include("blurred")
  end
end
