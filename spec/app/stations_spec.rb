# frozen_string_literal: true

require "support/web"

RSpec.describe "Stations and settings over HTTP", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let(:stations) { stores.stations }

  before { sign_in("ines") }

  def fields(assembly = :rp, **changes)
    Web::StationForm
      .fresh(SHIPPED.assemblies.fetch(assembly), SHIPPED)
      .raw
      .merge("title" => "Mine")
      .merge(changes.transform_keys(&:to_s))
      .transform_keys(&:to_sym)
  end

  %i[rp dc pvb].each do |assembly|
    it "builds a #{assembly.upcase}, shows its truth, copies it, changes the copy and deletes it" do
      send_form "/stations", **fields(assembly)
      row = stations.of(instructor).first
      expect(row.station.assembly.id).to eq(assembly)
      get("/stations/#{row.id}")
      expect(html).to include("Truth sheet").and include("Nothing wrong")
      send_form "/stations/#{row.id}/duplicate"
      copy = stations.of(instructor).last
      expect(copy.title).to eq("Mine (copy)")
      send_form "/stations/#{copy.id}", **fields(assembly, title: "Changed", pressure: "44")
      expect(stations.find(instructor, copy.id).station).to have_attributes(
        title: "Changed",
        line: include(pressure_psi: 44.0)
      )
      expect(stations.find(instructor, row.id).title).to eq("Mine")
      send_form "/stations/#{copy.id}/delete"
      expect(stations.of(instructor).map(&:id)).to eq([row.id])
    end
  end

  it "builds a bench to be made ready for a test, and tells an instructor what there is to do" do
    kit = {face: "digital", power: "standby", in_the_dark: "1"}
    send_form "/stations", **fields(:rp, outfit: "both", weeping: ["shutoff_valve_2"], **kit)
    row = stations.of(instructor).first
    expect(row.station).to have_attributes(capped?: true, adapters?: true, weeping: [:shutoff_valve_2])
    get("/stations/#{row.id}")
    ready = ["SOV2 weeps until it is tightened", "caps on the test cocks", "hoses need adapters", "kit on standby"]
    expect(html).to include(ready.join("; "))
    send_form "/stations/#{row.id}", **fields(:rp, outfit: "bare", weeping: [], face: "analogue", power: "standby")
    expect(stations.find(instructor, row.id).station).to have_attributes(capped?: false, weeping: [])
    get("/stations/#{row.id}")
    expect(html).not_to include("weeps")
  end

  it "takes the day of the test, on which a kit's check may be out of date, and keeps a bad one as typed" do
    send_form "/stations", **fields(:rp, date: "2027-03-05", checked_on: "2026-01-01")
    row = stations.of(instructor).first
    expect(row.station.date).to eq("2027-03-05")
    expect(get("/stations/#{row.id}/edit").body).to include('value="2027-03-05"')
    send_form "/stations/preview", **fields(:rp, date: "the fifth")
    expect(last_response.body).to match(/date|day/i).and satisfy { |body| !body.include?("<svg") }
    send_form "/stations", **fields(:rp, date: "the fifth")
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("the fifth")
    expect(stations.of(instructor).size).to eq(1)
  end

  it "previews the truth of what is being built, or what keeps it from being built" do
    send_form "/stations/preview", **fields(:rp, fault_0: "check_valve_2_fouled", severity_0: "gross")
    expect(last_response.body).to include("CV2: fouled").and include("leaked").and include("<svg")
    send_form "/stations/preview", **fields(:rp, fault_0: "check_valve_2_weak_spring", severity_0: "gross")
    expect(last_response.body).to include("No procedure allowed here finds what is wrong")
    send_form "/stations/preview",
              **fields(
                :rp,
                fault_0: "check_valve_1_fouled",
                severity_0: "gross",
                fault_1: "relief_valve_opens_low",
                severity_1: "gross"
              )
    expect(last_response.body).to include("hide each other")
    send_form "/stations/preview", **fields(:rp, swing: "a lot")
    expect(last_response.body).to include("should be a number from 0 to 10").and satisfy { |body|
      !body.include?("<svg")
    }
  end

  it "takes an exported station back as the same bench, and says what is wrong with a file that is none" do
    row = make_station(instructor, :dc_masked)
    text = get("/stations/#{row.id}/export").body
    file = ->(content) do
      Rack::Test::UploadedFile.new(StringIO.new(content), "application/yaml", true, original_filename: "s.yml")
    end
    send_form "/stations/import", file: file.call(text)
    expect(stations.of(instructor).last.station.data).to eq(row.station.data)
    send_form "/stations/import", file: file.call(text.sub("pressure_psi: 60", "pressure_psi: 600"))
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("line.pressure_psi").and include("20 to 150")
    send_form "/stations/import", file: file.call("just words")
    expect(last_response.body).to include("should be a mapping")
    expect(stations.of(instructor).size).to eq(2)
  end

  it "lets an instructor try a bench themselves, and nobody counts it as a trainee's" do
    row = make_station(instructor)
    send_form "/stations/#{row.id}/try"
    follow_redirect!
    expect(last_response.body).to include("RP at Saltmeadow Cider Works").and include("What now?")
    expect(get("/today").body).to include("Nobody has a bench of their own yet")
    expect(get("/practice-room").body).to include("Nobody is here yet")
  end

  it "lets a trainee start a practice bench over and leaves the first try as it was" do
    trainee = make_trainee
    attempt = begin_attempt(instructor, trainee, mode: "practice", seed: 9)
    sign_in("teo", "1234")
    send_form "/attempts/#{attempt.id}/actions",
      kind: "turn",
      valve: "test_cock_4",
      to: "1.0",
      action_id: "a",
      seq: 0,
      seen_ms: 0
    send_form "/attempts/#{attempt.id}/over"
    again = stores.attempts.find(last_response.headers["location"][%r{attempts/(\d+)}, 1].to_i)
    expect(again).to have_attributes(seed: 9, status: "started", last_seq: 0, mode: "practice")
    expect(stores.attempts.find(attempt.id)).to have_attributes(last_seq: 1, status: "left")
    expect(stores.attempts.of_trainee(trainee).map(&:id)).to eq([again.id])
  end

  it "says what is wrong with an adopted procedure and loses nothing typed" do
    fields = Web::ProcedureForm.of(SHIPPED.procedures.fetch(:r1), {}, SHIPPED.words).raw.transform_keys(&:to_sym)
    odd = {
      {title_flush: "x" * 300} => "under 200 characters",
      {own_title_0: "y" * 90, own_points_0: "3"} => "Keep it under 80",
      {own_title_0: "Tag", own_points_0: "many"} => "points from 0 to 50",
      {wait_check_valve_1_apparent: "soon"} => "seconds from 0 to 600",
      {asked_connect: ""} => "which is left out"
    }
    odd.each do |typed, said|
      send_form "/settings/procedures/r1", **fields, **typed
      expect(last_response.status).to eq(422)
      expect(html).to include(said)
      expect(html).to include(typed.values.first)
    end
    expect(stores.policies.versions(instructor, :r1)).to eq([])
    # Letters that make no name, and the same words twice, are two steps all the same.
    twice = {own_title_0: "Ярлык", own_points_0: "3", own_title_1: "Ярлык", own_points_1: "2"}
    send_form "/settings/procedures/r1", **fields, **twice
    kept = stores.policies.overlays(instructor).fetch(:r1)
    expect(SHIPPED.procedures.fetch(:r1).adjusted(kept).steps.count(&:own?)).to eq(2)
  end

  it "shows the truth, and gives one a bench, as one has adopted the procedure" do
    fields = Web::ProcedureForm.of(SHIPPED.procedures.fetch(:r1), {}, SHIPPED.words).raw.transform_keys(&:to_sym)
    send_form "/settings/procedures/r1", **fields, label: "Form 7", own_title_0: "Hang the tag", own_points_0: "3"
    row = make_station(instructor)
    expect(get("/stations/#{row.id}").body).to include("R1 · Form 7")
    send_form "/stations/#{row.id}/try"
    attempt = stores.attempts.find(last_response.location[%r{attempts/(\d+)}, 1].to_i)
    expect(attempt.procedures.first.steps.map(&:title)).to include("Hang the tag")
    expect(get("/attempts/#{attempt.id}/bench").body).to include("Hang the tag: done")
  end

  it "takes an adopted procedure out as a file and back, and an older version again" do
    fields = Web::ProcedureForm.of(SHIPPED.procedures.fetch(:r1), {}, SHIPPED.words).raw.transform_keys(&:to_sym)
    %w[First Second].each { |label| send_form "/settings/procedures/r1", **fields, label: label }
    file = get("/settings/procedures/r1/file").body
    expect(file).to include("Second")
    send_form "/settings/procedures/r1/version", version: "1"
    expect(stores.policies.overlays(instructor).fetch(:r1)).to include(label: "First", version: 3)
    brought = ->(text) do
      Rack::Test::UploadedFile.new(StringIO.new(text), "application/yaml", original_filename: "a.yml")
    end
    send_form "/settings/procedures/r1/file", file: brought.call(file)
    expect(stores.policies.overlays(instructor).fetch(:r1)).to include(label: "Second", version: 4)
    ["procedure: r2\nchanges: {}", "procedure: r1\nchanges: {left_out: [connect]}", "[", "procedure: none\nchanges: {}"]
      .each do |text|
        send_form "/settings/procedures/r1/file", file: brought.call(text)
        expect(last_response.status).to eq(422), text
        expect(html).to include("problem")
      end
    send_form "/settings/procedures/r1/version", version: "0"
    expect(stores.policies.overlays(instructor)).to eq({})
  end

  it "takes a practice bench back to before the step done last, with the same water" do
    trainee = make_trainee
    attempt = begin_attempt(instructor, trainee, mode: "practice")
    log = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first).run.log
    flushed = log.find_index { |action| action[:valve] == "test_cock_4" && action[:to].zero? }
    keeper.of(attempt).do_again(attempt, log.first(flushed + 3))
    expect(keeper.of(attempt).progress.reached.last(2)).to eq(%i[flush connect])
    sign_in("teo", "1234")
    send_form "/attempts/#{attempt.id}/back"
    again = stores.attempts.find(last_response.headers["location"][%r{attempts/(\d+)}, 1].to_i)
    kept = stores.attempts.log(again).actions
    expect(kept.map(&:to_h)).to eq(log.first(flushed + 1).map(&:to_h))
    bench = keeper.of(again)
    expect(bench.progress.reached.last).to eq(:flush)
    twin = Nurv::Bench::Replay.new(attempt.variant, Nurv::Bench::Log.new(kept)).last
    bench.look { |span| expect(span.water_at(span.from_s + 1.0).to_h).to eq(twin.water_at(twin.from_s + 1.0).to_h) }
    expect(again.clock_ms(wall_ms)).to be_between(kept.last.at_ms, kept.last.at_ms + 5_000)
    expect(get("/work").body.scan("Back to the bench").size).to eq(1)
  end

  it "lets the tester choose another procedure, and asks for that one's readings" do
    trainee = make_trainee
    attempt = begin_attempt(instructor, trainee, station: :rp_debris, mode: "practice")
    sign_in("teo", "1234")
    expect(get("/attempts/#{attempt.id}/bench").body).to include("f_check_valve_1_apparent").and include(
            "Procedure followed"
          )
    send_form "/attempts/#{attempt.id}/actions",
      kind: "fill",
      field: "procedure",
      value: "r2",
      action_id: "p",
      seq: 0,
      seen_ms: 0
    expect(last_response.body).to include("f_check_valve_2_differential").and satisfy { |body|
      !body.include?("f_check_valve_1_apparent")
    }
    expect(get("/attempts/#{attempt.id}/start").status).to eq(302)
  end

  it "mends at the bench only with the water off and the body relieved, and then has fields for the retest" do
    clock = SetClock.new.tap { |set| Clock.source = set }
    trainee = make_trainee
    attempt = begin_attempt(instructor, trainee, station: :rp_mend, mode: "practice")
    sign_in("teo", "1234")
    seq = -1
    act =
      lambda do |**fields|
        send_form "/attempts/#{attempt.id}/actions",
          **fields,
          action_id: "n#{seq += 1}",
          seq: stores.attempts.find(attempt.id).last_seq,
          seen_ms: stores.attempts.find(attempt.id).clock_ms(clock.now_ms)
        clock.let_go_by(4_000)
        last_response.body
      end
    expect(get("/attempts/#{attempt.id}/bench").body).to include("repair_component")
    expect(act.call(kind: "repair", component: "check_valve_1", action: "new_spring")).to include(
      "Close SOV1 and SOV2"
    )
    %w[shutoff_valve_2 shutoff_valve_1].each { |valve| act.call(kind: "turn", valve: valve, to: "0") }
    expect(act.call(kind: "repair", component: "check_valve_1", action: "new_spring")).to include(
      "The body is still under pressure."
    )
    %w[test_cock_2 test_cock_3 test_cock_4].each { |cock| act.call(kind: "turn", valve: cock, to: "1") }
    expect(act.call(kind: "repair", component: "check_valve_1", action: "new_spring")).to include(
      "retest_check_valve_1_apparent"
    ).and include("CV1: fit a new spring")
  end

  it "keeps units and time zone, and shows them where they are read" do
    send_form "/settings", units: "kpa", time_zone: "Pacific/Auckland"
    row = make_station(instructor)
    expect(get("/stations/#{row.id}").body).to include("55.2 kPa")
    stores.audits.note(instructor, "did", "something")
    DB[:audits].update(at: Time.utc(2026, 7, 1, 0, 30))
    expect(get("/settings/audit").body).to include("1 Jul, 12:30")
    send_form "/settings", units: "kpa", time_zone: "Middle/Earth"
    expect(last_response.status).to eq(422)
    expect(last_response.body).to include("Middle/Earth").and include("Area/City")
  end

  it "changes a password only for who knows the old one" do
    send_form "/settings/password", now: "wrong", password: "battery staple"
    expect(last_response.body).to include("is not that one")
    send_form "/settings/password", now: "correct horse", password: "short"
    expect(last_response.body).to include("at least eight")
    send_form "/settings/password", now: "correct horse", password: "battery staple"
    expect(stores.users.authenticate("ines", "battery staple")).not_to be_nil
    expect(stores.users.authenticate("ines", "correct horse")).to be_nil
  end

  it "keeps a policy of one's own for oneself" do
    send_form "/settings/policies",
              **Web::PolicyForm
                .of(SHIPPED.policies.fetch(:standard))
                .raw
                .merge("name" => "Strict", "pass_mark" => "95")
                .transform_keys(&:to_sym)
    expect(stores.policies.of(instructor).values.map { |policy| [policy.name, policy.pass_mark] }).to eq(
      [["Standard", 80.0], ["Strict", 95.0]]
    )
    course = make_class(instructor)
    expect(get("/classes/#{course.id}/exams/new?policy=own-#{DB[:policies].get(:id)}").body).to include('value="95"')
    expect(stores.policies.of(make_instructor("otto")).size).to eq(1)
  end

  it "draws one station of a pool for each trainee, and allows only the procedures chosen" do
    # So many that not all of them draw the same, whatever their numbers.
    course = make_class(instructor, *("a".."p").map { |login| make_trainee(login) })
    rows = %i[bottle_rinser ferry_quay rp_debris].map { |id| make_station(instructor, id) }
    policy = Web::PolicyForm.of(SHIPPED.policies.fetch(:standard)).raw.transform_keys(&:to_sym)
    send_form "/classes/#{course.id}/exams",
      **policy,
      title: "Pools",
      stations: rows.map { |row| row.id.to_s },
      "pool_#{rows[0].id}": "a",
      "pool_#{rows[1].id}": "A",
      procedures: ["r2"],
      seed: "3"
    exam = stores.exams.of_class(course).first
    expect(exam.places.map(&:size)).to eq([2, 1])
    send_form "/exams/#{exam.id}/open", sure: "1"
    list = stores.attempts.of_exam(exam)
    expect(list.size).to eq(32)
    expect(
      list.select { |attempt| attempt.position.zero? }.map { |attempt| attempt.station.id }.uniq
    ).to contain_exactly(:bottle_rinser, :ferry_quay)
    # R2 is allowed where a station has it; one that has none of those chosen keeps its own.
    expect(list.find { |attempt| attempt.station.id == :rp_debris }.station.procedures.map(&:id)).to eq([:r2])
    expect(list.find { |attempt| attempt.station.id == :bottle_rinser }.station.procedures.map(&:id)).to eq([:r1])
  end

  it "says at the field what an exam lacks and loses nothing typed" do
    course = make_class(instructor)
    row = make_station(instructor)
    send_form "/classes/#{course.id}/exams",
      title: "",
      stations: [row.id.to_s],
      pass_mark: "most",
      seed: "x",
      "pool_#{row.id}": "B"
    expect(last_response.status).to eq(422)
    [
      "Give the exam a title",
      "pass mark from 0 to 100",
      "whole number from 1 to 999999, like 7",
      'value="most"',
      'value="B"',
      "checked"
    ].each { |text| expect(last_response.body).to include(text) }
  end

  it "answers long lists page by page" do
    course = make_class(instructor)
    people = Array.new(130) { |index| {name: format("Trainee %03d", index), pin: nil} }
    stores.classes.enrol(course, people)
    row = make_station(instructor)
    members = stores.classes.members(course)
    members.each do |member|
      stores.attempts.create(
        station_row: row,
        instructor: instructor,
        trainee: member,
        mode: "exam",
        seed: 1,
        course: course
      )
    end
    first, third =
      [1, 3].map { |number| get("/classes/#{course.id}/gradebook?page=#{number}").body.scan(/Trainee \d{3}(?=<)/).uniq }
    expect([first.size, first.first, third.size, third.last]).to eq([50, "Trainee 000", 30, "Trainee 129"])
    get("/classes/#{course.id}/gradebook?q=%25")
    expect(html).to include("Nothing here that fits")
    expect(
      get("/classes/#{course.id}/gradebook?q=trainee+12&sort=name&desc=1").body.scan(/Trainee \d{3}(?=<)/).uniq
    ).to eq((120..129).map { |number| "Trainee #{number}" }.reverse)
  end
end
