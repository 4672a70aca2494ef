# frozen_string_literal: true

require "support/web"

RSpec.describe "Classes and exams", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let(:trainees) { %w[teo una vic].map { |login| make_trainee(login) } }
  let(:course) { make_class(instructor, *trainees) }
  let(:attempts) { stores.attempts }
  let(:exams) { stores.exams }

  def opened(*stations, **policy)
    exam = make_exam(instructor, course, *stations, **policy)
    exams.open(exam, trainees)
    exams.find(instructor, exam.id)
  end

  # A correct tester's test with a slip, handed in.
  def handed_in(attempt, slip = ->(acts) { acts })
    demo.play(attempt, slip: slip)
    attempts.find(attempt.id)
  end

  # The grade that stands, with its words.
  def told(attempt) = Nurv::Words::ToldGrade.new(stores.grades.with_overrides(attempt), SHIPPED).to_h

  # A file of a class, made by the second process.
  def file_of(course, what)
    send_form "/classes/#{course.id}/files", what: what
    follow_redirect!
    get(last_response.body[%r{/jobs/\d+/file}]).body
  end

  it "takes a whole roster or nothing, and says what is wrong on which line" do
    sign_in("ines")
    send_form "/classes/#{course.id}/roster", roster: "name,pin\nAsa Pell,4821\nBo Quill,48\n\n,1234\nAsa Pell\nTeo\n"
    expect(last_response.status).to eq(422)
    [
      "Line 3",
      "is not a PIN",
      "There is no name",
      "stands on line 2 already",
      "is in the class already",
      "Bo Quill,48"
    ].each { |text| expect(last_response.body).to include(text) }
    expect(stores.classes.members(course).size).to eq(3)
    send_form "/classes/#{course.id}/roster", roster: "Asa Pell,4821\n\"Quill, Bo\",\n"
    expect(stores.classes.members(course).map(&:name)).to include("Asa Pell", "Quill, Bo")
  end

  it "lets a trainee in by code, name and the PIN on the card, and nobody by another" do
    stores.classes.enrol(course, [{name: "Asa Pell", pin: nil}, {name: "Bo Quill", pin: "4821"}])
    pin = stores.classes.member_named(course, "Asa Pell").card_pin
    enter =
      lambda do |login, password, **fields|
        clear_cookies
        @token = get("/sign-in").body[/X-CSRF-Token":"([^"]+)"/, 1]
        send_form("/sign-in", code: course.join_code.downcase, login: login, password: password, **fields)
      end
    expect(enter.call("asa\u00A0 pell", pin).status).to eq(302)
    expect(enter.call("Asa Pell", "99999").body).to include("not the PIN of Asa Pell").and include("Asa Pell")
    expect(enter.call("Bo Quill", "4821").status).to eq(302)
    expect(enter.call("Bo Quill", "4821", code: "").status).to eq(302)
    expect(enter.call("Bo Quill", "4821", code: "ZZZZZZ").body).to include("no class with that code")
  end

  it "asks before a typing error becomes a second person, and adds who says they are new" do
    stores.classes.enrol(course, [{name: "Dov Ashe", pin: "4821"}])
    enter =
      lambda do |**fields|
        clear_cookies
        @token = get("/sign-in").body[/X-CSRF-Token":"([^"]+)"/, 1]
        send_form("/sign-in", code: course.join_code, login: "Doug Ashe", password: "5555", **fields)
      end
    expect(enter.call.body).to include("There is no <strong>Doug Ashe</strong> in this class").and include(
            "I am Dov Ashe"
          )
    expect(stores.classes.members(course).map(&:name)).to satisfy { |names| !names.include?("Doug Ashe") }
    expect(enter.call(fresh: "1", password: "12").body).to include("four to eight digits")
    expect(enter.call(fresh: "1").status).to eq(302)
    expect(stores.classes.members(course).map(&:name)).to include("Doug Ashe", "Dov Ashe")
  end

  it "gives everybody a variant of their own at every place, the same ones again from the same seed" do
    exam = opened(:rp_drawn, :bottle_rinser)
    list = attempts.of_exam(exam)
    expect(list.size).to eq(6)
    expect(list.map(&:seed).uniq.size).to eq(6)
    before = list.map { |attempt| [attempt.trainee_id, attempt.position, attempt.seed] }
    exams.open(exam, trainees + [make_trainee("late")])
    expect(attempts.of_exam(exam).size).to eq(8)
    expect(attempts.of_exam(exam).map { |attempt| [attempt.trainee_id, attempt.position, attempt.seed] }).to include(
      *before
    )
  end

  it "stops every clock while an exam is paused, refuses acts, and lets all go on where they were" do
    exam = opened(:bottle_rinser)
    attempt = attempts.begin(attempts.of_exam(exam).first, wall_ms - 60_000)
    exams.pause(exam, wall_ms)
    paused = attempts.find(attempt.id)
    expect(paused.clock_ms(wall_ms + 600_000)).to be_within(500).of(60_000)
    bench = keeper.of(paused)
    expect {
      bench.act(
        paused,
        {kind: "turn", valve: "test_cock_4", to: 1.0},
        id: "a",
        known_seq: 0,
        seen_ms: 0,
        wall_ms: wall_ms
      )
    }.to be_refused(/paused/)
    exams.resume(exam, wall_ms + 600_000)
    expect(attempts.find(attempt.id).clock_ms(wall_ms + 601_000)).to be_within(500).of(61_000)
    expect(attempts.find(attempt.id).left_ms(wall_ms + 601_000)).to be_within(500).of(45 * 60_000 - 61_000)
  end

  it "hands in and grades what was done when the time is over, unless more was given" do
    exam = opened(:bottle_rinser, time_limit_min: 10)
    late, extended = attempts.of_exam(exam).first(2).map { |attempt| attempts.begin(attempt, wall_ms - 11 * 60_000) }
    attempts.extend_time([extended], 5)
    sign_in("ines")
    get "/exams/#{exam.id}/room"
    expect(attempts.find(late.id).status).to eq("submitted")
    expect(attempts.find(extended.id).status).to eq("started")
    grade = stores.grades.computed(attempts.find(late.id))
    expect(grade.score).to be < 40
    expect(grade.mistakes).to include(:step_not_done, :record_incomplete)
  end

  it "takes no act after the time is over, from the trainee's own page either" do
    exam = opened(:bottle_rinser, time_limit_min: 10)
    attempt = attempts.of_exam(exam).find { |item| item.trainee_id == trainees.first.id }
    attempts.begin(attempt, wall_ms - 11 * 60_000)
    sign_in("teo", "1234")
    send_form "/attempts/#{attempt.id}/actions",
      kind: "turn",
      valve: "test_cock_4",
      to: "1.0",
      action_id: "late",
      seq: 0,
      seen_ms: 0
    expect(last_response.headers["HX-Redirect"]).to end_with("/result")
    log = attempts.log(attempts.find(attempt.id))
    expect(log.map(&:kind)).to eq([:submit])
    expect(log.last_ms).to eq(600_000)
  end

  it "will not let a trainee begin before the exam is open" do
    exam = make_exam(instructor, course, :bottle_rinser)
    exams.open(exam, trainees)
    exams.pause(exams.find(instructor, exam.id), wall_ms)
    attempt = attempts.of_exam(exam).find { |item| item.trainee_id == trainees.first.id }
    sign_in("teo", "1234")
    expect(get("/attempts/#{attempt.id}/start").body).to include("The exam is paused")
    send_form("/attempts/#{attempt.id}/begin")
    expect(attempts.find(attempt.id).status).to eq("assigned")
  end

  it "keeps the computed grade beside an override, with who and why in the audit trail" do
    attempt = handed_in(attempts.of_exam(opened(:bottle_rinser)).first, Benches::Demo::SLIPS[1])
    grades = stores.grades
    computed = grades.computed(attempt).score
    sign_in("ines")
    send_form "/attempts/#{attempt.id}/override", line: "procedure.announce_water", earned: "4", reason: ""
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("Say why")
    send_form "/attempts/#{attempt.id}/override",
      line: "procedure.announce_water",
      earned: "4",
      reason: "Told the foreman at the door; I heard it."
    expect(grades.computed(attempt).score).to eq(computed)
    expect(grades.with_overrides(attempt).score).to eq(100.0)
    expect(grades.standings([attempt])[attempt.id].score).to eq(100.0)
    expect(get("/settings/audit").body).to include("overrode a line").and include("I heard it")
    expect(get("/attempts/#{attempt.id}/result").body).to include("computed #{computed}").and include(
            "Told the foreman"
          )
  end

  it "shows what a changed policy would change, and changes nothing until it is applied" do
    exam = opened(:bottle_rinser, critical_fails: false, fail_outright: ["went_on"])
    attempt = handed_in(attempts.of_exam(exam).first, Benches::Demo::SLIPS[1])
    before = stores.grades.with_overrides(attempt)
    expect(before).to be_pass
    sign_in("ines")
    strict =
      Web::PolicyForm
        .of(exam.policy)
        .raw
        .merge("pass_mark" => "80", "fail_outright" => ["water_on_unannounced"])
        .transform_keys(&:to_sym)
    send_form "/exams/#{exam.id}/regrade", **strict
    2.times { follow_redirect! }
    expect(last_response.body).to include("Teo").and include("Fail")
    expect(stores.grades.with_overrides(attempts.find(attempt.id))).to be_pass
    expect(html).to include("Apply it").and match(/value="water_on_unannounced" checked/)
    send_form "/exams/#{exam.id}/regrade", **strict, apply: "1"
    expect(stores.grades.with_overrides(attempts.find(attempt.id))).not_to be_pass
    expect(DB[:overrides].count).to eq(0)
  end

  it "comes out of an archive with the same grades to the last line" do
    exam = opened(:ferry_quay, :rp_mend)
    # One bench is never begun.
    attempts
      .of_exam(exam)
      .drop(1)
      .each_with_index { |attempt, index| handed_in(attempt, Benches::Demo::SLIPS[index % Benches::Demo::SLIPS.size]) }
    attempts.give_up(exam)
    first = attempts.of_exam(exam)[1]
    stores.grades.override(first, instructor, line: "judgement.diagnosis", earned: 5, reason: "Half right.")
    wanted = attempts.of_class(course).select(&:over?).map { |attempt| told(attempt) }
    packed = stores.archive.pack(course)

    CleanDatabase.clean
    owner = make_instructor("newcomer")
    copy = stores.archive.unpack(owner, StringIO.new(packed))
    expect(copy.name).to eq(course.name)
    expect(stores.classes.members(copy).map(&:name)).to eq(%w[Teo Una Vic])
    expect(
      attempts.of_class(copy).select(&:over?).map { |attempt| told(attempt) }
    ).to eq(wanted)
    expect(attempts.of_class(copy).map(&:status).tally).to eq("unbegun" => 1, "submitted" => 5)
    expect(wanted.map { |grade| grade[:lines].size }.min).to be > 30
  end

  it "refuses a damaged archive with a sentence, and imports nothing of it" do
    packed = stores.archive.pack(course)
    sign_in("ines")
    ["not a file at all", packed[0, 200], Zlib.gzip("nonsense" * 200)].each do |bytes|
      file =
        Rack::Test::UploadedFile.new(StringIO.new(bytes), "application/gzip", true, original_filename: "x.tar.gz")
      send_form "/classes/import", archive: file
      follow_redirect!
      expect(last_response.body).to match(/not a class exported by Nurv|no class.json/)
    end
    expect(stores.classes.of(instructor).size).to eq(1)
  end

  it "refuses an archive whose contents cannot be, whatever they are" do
    handed_in(attempts.of_exam(opened(:bottle_rinser)).first)
    packed = stores.archive.pack(course)
    tables = %i[classes attempts exams events users].to_h { |table| [table, DB[table].count] }
    bent =
      lambda do |&change|
        io = StringIO.new("".b)
        Zlib::GzipWriter.wrap(io) do |gzip|
          Gem::Package::TarWriter.new(gzip) do |tar|
            Gem::Package::TarReader
              .new(Zlib::GzipReader.new(StringIO.new(packed)))
              .each do |entry|
                text = change.call(entry.full_name, entry.read.to_s)
                tar.add_file_simple(entry.full_name, 0o644, text.bytesize) { |file| file.write(text) } if text
              end
          end
          gzip.finish
        end
        stores.archive.unpack(instructor, StringIO.new(io.string))
      end
    changes = {
      "a log missing" => ->(name, text) { name.start_with?("logs/") ? nil : text },
      "a log of nonsense" => ->(name, text) { name.start_with?("logs/") ? "nonsense\n" : text },
      "a policy without weights" => ->(_, text) { text.gsub('\\"weights\\":', '\\"heights\\":') },
      "a station that cannot be" => ->(_, text) { text.gsub("assembly: rp", "assembly: xx") },
      "another version" => ->(_, text) { text.sub('"version": 2', '"version": 9') },
      "a key nobody knows" => ->(_, text) { text.sub('"roster":', '"rooster": 1, "roster":') },
      "facts that do not go together" => ->(_, text) { text.sub('"missed": "hoses_wrong"', '"missed": "nothing"') },
      "a bench under facts that are not in it" => ->(_, text) { text.gsub(/"catalog": "\h+"/, '"catalog": "0123"') },
      "a person who is not there" => ->(_, text) { text.gsub(/"trainee": \d+/, '"trainee": 999999') },
      "a state nobody knows" => ->(_, text) { text.gsub('"status": "submitted"', '"status": "asleep"') }
    }
    changes.each { |what, change| expect { bent.call(&change) }.to raise_error(Store::Archive::BadArchive), what }
    expect(tables.keys.to_h { |table| [table, DB[table].count] }).to eq(tables)
    expect(bent.call { |_, text| text }.name).to eq(course.name)
  end

  it "gives a second attempt on another variant, linked to the first" do
    attempt = handed_in(attempts.of_exam(opened(:bottle_rinser)).first)
    sign_in("ines")
    send_form "/attempts/#{attempt.id}/retest"
    again = attempts.retests_of(attempt).first
    expect([again.retest_of, again.trainee_id, again.status]).to eq([attempt.id, attempt.trainee_id, "assigned"])
    expect(again.seed).not_to eq(attempt.seed)
  end

  it "puts trouble into a practice bench, and the log has it" do
    attempt = begin_attempt(instructor, trainees.first, mode: "practice")
    sign_in("ines")
    send_form "/attempts/#{attempt.id}/inject", what: "check_valve_1_fouled", severity: "gross", action_id: "one"
    send_form "/attempts/#{attempt.id}/inject", what: "check_valve_1_fouled", severity: "gross", action_id: "one"
    log = attempts.log(attempts.find(attempt.id))
    expect(log.of(:inject).map { |action| action[:fault] }).to eq(["check_valve_1_fouled"])
    keeper
      .of(attempts.find(attempt.id))
      .look { |span| expect(span.variant.setting(:check_valve_1, :leak_k)).to eq(3.0) }
  end

  it "searches, sorts and pages a gradebook, and hands it out as CSV that no spreadsheet takes for a formula" do
    stores.classes.enrol(course, [{name: "=HYPERLINK(1)", pin: nil}])
    exam = opened(:bottle_rinser, :ferry_quay)
    exams.open(exam, stores.classes.members(course))
    handed_in(attempts.of_exam(exam).find { |attempt| attempt.trainee_id == trainees[1].id }, Benches::Demo::SLIPS[2])
    sign_in("ines")
    expect(get("/classes/#{course.id}/gradebook?q=una&state=submitted").body).to include("Una").and include(
            "1 result"
          ).and satisfy { |body| !body.include?(">Vic<") }
    expect(get("/classes/#{course.id}/gradebook?sort=score&desc=1").body[%r{<tbody>.*?</tr>}m]).to include("Una")
    rows = CSV.parse(file_of(course, "gradebook"), headers: true)
    expect(rows.size).to eq(8)
    expect(rows.map { |row| row["trainee"] }).to include("'=HYPERLINK(1)")
    expect(rows.find { |row| row["score"] }["mistakes"]).to include("wrong_diagnosis")
  end

  it "shows another instructor's trainee and class to nobody else" do
    other = make_instructor("otto")
    make_class(other, make_trainee("zebediahquist"))
    station = make_station(instructor)
    course
    sign_in("ines")
    expect(get("/stations/#{station.id}").body).to include("Teo").and satisfy { |body|
      !body.include?("Zebediahquist")
    }
  end

  it "grades a proctor's marks by the same grader, on the same score sheet" do
    attempt = make_attempt(instructor, trainees.first, mode: "proctor")
    sign_in("ines")
    send_form "/proctor/#{attempt.id}/begin"
    truth = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first)
    truth.steps.each_with_index do |step, index|
      send_form(
        "/proctor/#{attempt.id}/acts",
        kind: "mark",
        step: step,
        as: (step == :flush) ? "wrong" : "done",
        action_id: "m#{index}"
      )
    end
    truth
      .run
      .log
      .of(:fill)
      .each_with_index do |action, index|
        send_form(
          "/proctor/#{attempt.id}/acts",
          kind: "fill",
          field: action[:field],
          value: (action[:field] == "check_valve_1_confirmed") ? "6.5" : action[:value],
          action_id: "f#{index}"
        )
      end
    send_form("/proctor/#{attempt.id}/acts", kind: "submit", action_id: "close")
    grade = stores.grades.computed(attempts.find(attempt.id))
    expect(grade.mistakes).to eq(%i[marked_wrong reading_off])
    expect(get("/attempts/#{attempt.id}/score-sheet.pdf").body).to start_with("%PDF")
  end

  it "makes score sheet, field report and class summary as PDFs that hold what they should" do
    attempt = handed_in(attempts.of_exam(opened(:rp_mend)).first, Benches::Demo::SLIPS[1])
    sign_in("ines")
    files =
      [
        "/attempts/#{attempt.id}/score-sheet.pdf",
        "/attempts/#{attempt.id}/report.pdf",
        "/classes/#{course.id}/cards.pdf",
        "/classes/#{course.id}/members.pdf"
      ].map { |path| get(path).body }
    [*files, file_of(course, "summary")].each { |body| expect(body).to start_with("%PDF-1").and end_with("%%EOF\n") }
    page = get("/attempts/#{attempt.id}/report").body
    ["Retest", "fit a new spring", "4.2 psid", "8.0 psid", "CV1: weak spring"].each do |text|
      expect(page).to include(text)
    end
  end

  it "keeps what an instructor changed in a procedure with what is set up from then on" do
    sign_in("ines")
    procedure = SHIPPED.procedures.fetch(:r1)
    fields =
      Web::ProcedureForm
        .of(procedure, {}, SHIPPED.words)
        .raw
        .merge("label" => "Form 7 test", "limit_check_valve_1_confirmed" => "9.0")
        .transform_keys(&:to_sym)
    send_form "/settings/procedures/r1", **fields
    expect(get("/settings").body).to include("Form 7 test")
    store = stores.policies
    policy = store.with_procedures(instructor, store.of(instructor)["standard"])
    expect(policy.adjust(procedure).title).to include("Form 7 test")
    attempt = make_attempt(instructor, trainees.first)
    DB[:attempts].where(id: attempt.id).update(policy_body: policy.to_json)
    grade = stores.grades.computed(handed_in(attempts.find(attempt.id)))
    # The healthy check holds 8.0, which the changed limit of 9.0 does not pass.
    expect(grade.mistakes).to include(:wrong_verdict, :wrong_overall)
    # The page to read from says what the instructor has, to their trainees as well.
    expect(get("/reference?procedure=r1").body).to include("Form 7 test").and include("9.0 psid or more")
    make_class(instructor, trainees.first)
    other = stores.classes.teacher_of(trainees.first)
    expect(stores.policies.overlays(other).fetch(:r1)).to include(label: "Form 7 test", version: 1)
    send_form "/settings/procedures/r1", **fields, limit_check_valve_1_confirmed: "plenty"
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("plenty").and include("like 5.0")
  end
end
