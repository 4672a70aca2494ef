# frozen_string_literal: true

require "support/web"

RSpec.describe "Practising on one's own", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let!(:trainee) { make_trainee }
  let!(:course) { make_class(instructor, trainee) }

  def bench = stores.attempts.of_trainee(trainee).find(&:started?)

  it "is shut until the instructor opens it for the class, and then by the procedures chosen" do
    sign_in("teo", "1234")
    expect(get("/practise").body).to include("has not opened practice")
    expect(send_form("/practise", procedure: "r1", wrong: "nothing").status).to eq(404)
    sign_in("ines")
    send_form "/classes/#{course.id}/let-practise", procedures: %w[d3 p2 nonsense]
    expect(stores.classes.find(instructor, course.id).practises).to eq(%i[d3 p2])
    sign_in("teo", "1234")
    expect(get("/practise").body).to include("D3 ·", "P2 ·")
    expect(last_response.body).not_to include("R1 ·")
    send_form "/practise", procedure: "r1", wrong: "nothing"
    expect(last_response.status).to eq(422)
    expect(html).to include("Choose a procedure.")
  end

  context "with practice open" do
    before do
      stores.classes.let_practise(course, %w[d3 r1])
      sign_in("teo", "1234")
    end

    it "draws a station nobody else has, with what was wished for, and begins it after the preliminaries" do
      send_form "/practise", procedure: "d3", wrong: "fault:check_valve_1_fouled", difficulty: "easy", swings: "1"
      expect(last_response.location).to end_with("/attempts/#{bench.id}/bench")
      station = bench.station
      expect(station.faults.map { |item| item.fault.id }).to eq([:check_valve_1_fouled])
      expect([station.line[:swing_psi], bench.mode, bench.class_id, bench.instructor_id]).to eq(
        [Benches::Practice::SWING_PSI, "practice", course.id, instructor.id]
      )
      done = stores.attempts.log(bench).map(&:kind)
      expect([%i[tell look] - done, done & %i[connect turn]]).to eq([[], []])
      expect(bench.clock_ms(Clock.wall_ms)).to be >= stores.attempts.log(bench).last_ms
      expect(station.id.to_s[/-(\d{4,})-/, 1].to_i).to be >= Benches::Practice::SEEDS.begin
      expect(stores.stations.of(instructor)).to eq([])
    end

    it "begins with nothing done where the preliminaries are wanted, and something is wrong where it is unknown" do
      send_form "/practise", procedure: "d3", wrong: "unknown", difficulty: "easy", preliminaries: "1"
      expect(stores.attempts.log(bench).to_a).to eq([])
      expect(bench.station.faults.size).to eq(1)
      expect(get("/attempts/#{bench.id}/bench").body).not_to include(bench.station.faults.first.fault.label)
    end

    it "goes on by one press after handing in: the same, another, or a harder one" do
      send_form "/practise", procedure: "d3", wrong: "nothing", difficulty: "easy"
      first = bench
      keeper.hand_in([first], Clock.wall_ms)
      expect(get("/attempts/#{first.id}/result").body).to include("The same again", "Another like it", "A harder one")
      went_on = %w[same next harder].map do |how|
        send_form "/attempts/#{first.id}/onward", how: how
        fresh = bench
        keeper.hand_in([fresh], Clock.wall_ms)
        fresh
      end
      ids = went_on.map { |attempt| attempt.station.id.to_s }
      expect(ids[0]).to eq(first.station.id.to_s)
      expect(ids[1]).to start_with("d3-easy-").and(satisfy { |id| id != ids[0] })
      expect(ids[2]).to start_with("d3-medium-")
      expect(send_form("/attempts/#{first.id}/onward", how: "sideways").status).to eq(404)
    end

    it "has the next drill ready before it is asked for, once for one trainee, under the facts of now" do
      get "/drills"
      wanted = stores.jobs.take_outcome("drill", DB[:jobs].where(kind: "drill").get(:subject))
      expect(wanted).to be_nil
      get "/help"
      made = DB[:jobs].where(kind: "drill", state: "done").first
      drill = made[:subject].split[1]
      WorkFirst.left_alone = true
      send_form "/drills/#{drill}"
      attempt = stores.attempts.find(DB[:attempts].max(:id))
      kept = JSON.parse(made[:outcome])
      expect(attempt.station.to_yaml).to eq(kept["station"])
      expect(stores.attempts.log(attempt).map(&:to_json)).to eq(kept["acts"].map { |act| JSON.generate(act) })
      expect(attempt.drill).to eq("#{drill} #{kept["way"]}")
      expect(DB[:jobs].where(id: made[:id])).to be_empty
      # Another is on the list; what was made under other facts would not be taken.
      expect(DB[:jobs].where(kind: "drill").select_map(%i[subject state])).to eq([[made[:subject], "waiting"]])
      stores.classes.let_practise(course, %w[r2])
      get "/drills"
      expect(DB[:jobs].where(kind: "drill").exclude(subject: made[:subject]).select_map(:state)).to eq(["waiting"])
    end

    it "drills one skill with nobody's help, marks it for that alone, and goes on to the next" do
      expect(get("/drills").body).to include("First drop", "Not done yet")
      expect(last_response.body).not_to include("Stop the tube")
      send_form "/drills/flush_in_order"
      drill = stores.attempts.find(DB[:attempts].max(:id))
      expect(last_response.location).to end_with("/attempts/#{drill.id}/bench")
      page = get("/attempts/#{drill.id}/bench").body
      expect(page).to include("Flush the test cocks as the procedure has it", 'id="drill_done"')
      expect(page).not_to include('id="coach"')
      expect(get("/attempts/#{drill.id}/coach?level=act").status).to eq(404)
      expect(get("/work").body).not_to include("/attempts/#{drill.id}/")
      done = ->(kind, **fields) do
        seq = stores.attempts.find(drill.id).last_seq
        post "/attempts/#{drill.id}/actions",
          {kind: kind, action_id: SecureRandom.uuid, seq: seq, seen_ms: 0, **fields}, "HTTP_X_CSRF_TOKEN" => @token
      end
      done.call("submit")
      get "/attempts/#{drill.id}/result"
      expect(last_response.location).to end_with("/attempts/#{drill.id}/drilled")
      2.times { get "/attempts/#{drill.id}/drilled" }
      expect(last_response.body).to include("Test cock not flushed", "The next one")
      expect(DB[:drill_tries].select_map(%i[drill procedure score])).to eq([["flush_in_order", "r1", 0.0]])
      expect(get("/drills").body).to include("Best <strong>0</strong>")
      expect(DB[:jobs].where(kind: "grade").count).to eq(0)
    end

    it "has the eight cases predicted, scored, explained and kept, and shows them in the class's map" do
      expect(get("/lab/cases").body).to include("Predict first", "0 of 8 predicted")
      send_form "/lab/cases/back_pressure_tight_tight", relief: "dry", zone: "below"
      expect(last_response.status).to eq(422)
      expect(html).to include("Predict all three first")
      send_form "/lab/cases/back_pressure_tight_tight", relief: "dry", zone: "below", protected: "no"
      expect(html).to include("✓ As you said.", "✗ You said: is not protected.", "so the relief valve stays shut")
      expect(stores.drills.predictions(trainee)).to match(back_pressure_tight_tight: be_within(0.1).of(66.7))
      expect(get("/lab/cases").body).to include("1 of 8 predicted")
      sign_in("ines")
      expect(get("/classes/#{course.id}/skills").body).to include("How an RP protects: 8.3, 1 tries")
      expect(get("/classes/#{course.id}/gradebook").body).not_to include("1 of 8")
      expect(get("/classes/#{course.id}/gradebook?cases=1").body).to include("1 of 8", ">8.3<")
      rows = CSV.parse(Work::RecordRows.new([], stores).to_csv(stores.gradebook(course, cases: true).predicted))
      expect(rows.last.values_at(0, 4, 7)).to eq(["Teo", "principles", "8.3"])
    end

    it "gives the eight cases as work, which are done when all are predicted again" do
      stores.drills.keep_prediction(trainee, :back_pressure_tight_tight, 100.0)
      sign_in("ines")
      send_form "/classes/#{course.id}/drills", trainees: [trainee.id.to_s], cases: "1"
      sign_in("teo", "1234")
      expect(get("/drills").body).to include("Given to you: 11 to do", "How an RP protects: eight cases")
      Nurv::Teaching::Principles.cases.each do |one|
        expect(send_form("/drills/next").location).to end_with("/lab/cases")
        send_form "/lab/cases/#{one.id}", relief: "dry", zone: "below", protected: "yes"
      end
      expect(stores.drills.left_of_set(trainee).size).to eq(10)
      expect(send_form("/drills/next").location).to end_with("/bench")
    end

    it "shows the class as a map, and gives those who are weak a set of what they need most" do
      drills = Benches::Drills.new(stores, keeper)
      first = -> do
        send_form "/drills/next"
        fresh = stores.attempts.find(DB[:attempts].max(:id))
        keeper.hand_in([fresh], Clock.wall_ms)
        get "/attempts/#{fresh.id}/drilled"
        drills.of(fresh).first.id
      end
      expect(Array.new(2) { first.call }.uniq.size).to eq(2)
      sign_in("ines")
      expect(get("/classes/#{course.id}/skills").body).to include("skill-weak", "First drop")
      send_form "/classes/#{course.id}/drills", trainees: [trainee.id.to_s, "999999"]
      left = stores.drills.left_of_set(trainee)
      expect(left.size).to eq(Benches::SkillMap::SET)
      sign_in("teo", "1234")
      expect(get("/drills").body).to include("Given to you: 10 to do")
      expect(first.call).to eq(left.first)
      expect(stores.drills.left_of_set(trainee)).to eq(left.drop(1))
    end

    it "goes with a trainee who stood on the roster twice" do
      twin = make_trainee("teo2")
      stores.classes.add(course, twin)
      stores.drills.keep_prediction(trainee, :back_pressure_tight_tight, 100.0)
      stores.drills.give(course, {trainee.id => %i[first_drop]})
      send_form "/drills/first_drop"
      drill = stores.attempts.find(DB[:attempts].max(:id))
      keeper.hand_in([drill], Clock.wall_ms)
      get "/attempts/#{drill.id}/drilled"
      expect(stores.attempts.of_instructor(instructor)).to eq([])
      stores.classes.merge(twin, trainee)
      expect(stores.drills.of(twin).keys).to eq([:first_drop])
      expect(stores.drills.predictions(twin)).to eq(back_pressure_tight_tight: 100.0)
      expect(stores.drills.predicted(twin).last_at).to be_a(Time)
    end

    it "is shut while its trainee sits in an exam" do
      begin_attempt(instructor, trainee)
      expect(get("/practise").status).to eq(403)
      expect(send_form("/practise", procedure: "d3", wrong: "nothing").status).to eq(403)
    end
  end
end
