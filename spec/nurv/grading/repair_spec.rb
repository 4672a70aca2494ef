# frozen_string_literal: true

RSpec.describe "Repair and retest" do
  def place(after_failure: "repair_and_retest", **changes) = variant(after_failure: after_failure, **changes)

  def lost(bench, actions) = grade(bench, actions).lines.select(&:lost?).map { |line| [line.id, line.mistake] }

  it "clears the fault if the right thing is done to the right part, and the expert's retest reads a sound assembly" do
    bench = place(faults: {check_valve_1_weak_spring: :moderate})
    truth = Nurv::Expert::Truth.of(bench, bench.station.procedures.first)
    expect(truth.verdict.overall).to eq(:fail)
    expect(truth.mending).to eq([%w[check_valve_1 new_spring]])
    expect(truth.run.retest_values[:check_valve_1_confirmed].to_f).to be_within(0.1).of(8.0)
    expect(lost(bench, expert_actions(bench))).to eq([])
  end

  it "leaves the fault where it is if another thing is done, and says so" do
    bench = place(faults: {check_valve_1_weak_spring: :moderate})
    wrong = expert_actions(bench).map { |act| (act[:kind] == "repair") ? act.merge(action: "clean_seat") : act }
    grade = grade(bench, wrong)
    expect(grade.mistakes).to include(:repair_wrong)
    # The needle still stands at the weak spring, so the sound reading in the report is not what it showed.
    expect(grade.lines.find { |line| line.id == :retest_check_valve_1_apparent }).to be_lost
  end

  it "names a repair or a retest that is missing" do
    bench = place(faults: {check_valve_2_fouled: :gross})
    actions = expert_actions(bench)
    unmended =
      actions.reject do |act|
        act[:kind] == "repair" || act[:field].to_s.start_with?("retest_") || act[:field] == "repairs"
      end
    expect(grade(bench, unmended).mistakes).to include(:repair_missing, :retest_missing)
    expect(lost(bench, actions.reject { |act| act[:field].to_s.start_with?("retest_") })).to include(
      %i[retest retest_missing]
    )
  end

  it "names the repair of a sound assembly" do
    bench = place(faults: {})
    actions = expert_actions(bench)
    at_ms = actions.rindex { |act| act[:kind] == "turn" && act[:valve] == "shutoff_valve_2" }
    shut =
      [["shutoff_valve_1", 0.0]].map do |valve, to|
        {kind: "turn", valve: valve, to: to, at_ms: actions[at_ms][:at_ms], id: "s"}
      end
    bent =
      actions.dup.insert(
        at_ms,
        *shut,
        {kind: "repair", component: "check_valve_1", action: "new_spring", at_ms: actions[at_ms][:at_ms], id: "r"}
      )
    expect(grade(bench, bent).mistakes).to include(:repair_uncalled)
  end

  it "refuses to open up what is under pressure, and a repair where none belongs to the test" do
    bench = tester(after_failure: "repair_and_retest")
    mend = ->(where, way) { where.act(:repair, component: "check_valve_1", action: way) }
    expect { mend.call(bench, "clean_seat") }.to be_refused(/Close SOV1 and SOV2/)
    expect { mend.call(bench, "renew_shutoff") }.to be_refused(/not something one does/)
    bench.turn(:shutoff_valve_2, 0.0).turn(:shutoff_valve_1, 0.0).wait(3)
    expect { mend.call(bench, "clean_seat") }.to be_refused(/under pressure. Open TC2 and TC3 and TC4/)
    inlet = -> { bench.act(:repair, component: "shutoff_valve_1", action: "renew_shutoff") }
    expect(&inlet).to be_refused(/Only the water supplier can shut that off/)
    outlet = -> { bench.act(:repair, component: "shutoff_valve_2", action: "renew_shutoff") }
    %i[test_cock_2 test_cock_3 test_cock_4].each { |cock| bench.turn(cock, 1.0) }
    bench.wait(10)
    expect(&outlet).to be_refused(/Open Tap and let it drain/)
    mend.call(bench, "clean_seat")
    expect { mend.call(tester, "clean_seat") }.to be_refused(/not part of this test/)
  end

  %i[d1 p1 r2].each do |id|
    it "earns the expert full marks through #{id} twice" do
      kind = SHIPPED.procedures.fetch(id)
      bench =
        place(
          assembly: kind.assembly.to_s,
          procedures: [id.to_s],
          kit: {
            id: kind.kits.first.to_s,
            serial: "NK-1",
            checked_on: "2026-03-02"
          },
          faults: {
            check_valve_1_fouled: :moderate
          }
        )
      expect(lost(bench, expert_actions(bench))).to eq([])
    end
  end
end

RSpec.describe "Things wrong with test cocks, plate and kit" do
  it "shows a blocked test cock as a weak jet, which a wire clears" do
    bench = tester(faults: {test_cock_3_blocked: :gross}).turn(:test_cock_3, 1.0).wait(2)
    expect(Nurv::Bench::Flow.seen(bench.flow(:test_cock_3))).not_to eq(:jet)
    expect { bench.act(:clean, at: "test_cock_3") }.to be_refused(/Close TC3/)
    bench.turn(:test_cock_3, 0.0).wait(1).act(:clean, at: "test_cock_3").turn(:test_cock_3, 1.0).wait(2)
    expect(Nurv::Bench::Flow.seen(bench.flow(:test_cock_3))).to eq(:jet)
  end

  it "lets debris into an unflushed hose whose strainer is at the wrong end, and the needle creeps" do
    kit = {id: "five_valve", serial: "NK-1", checked_on: "2026-03-02", strainer_at_kit: ["high"]}
    flushed = ->(bench) { bench.turn(:test_cock_2, 1.0).wait(2).turn(:test_cock_2, 0.0).wait(1) }
    turned = ->(bench) { bench.act(:swap_ends, hose: "high").wait(1) }
    needles =
      [[], [flushed], [turned]].map do |care|
        bench = care.reduce(tester(debris: ["test_cock_2"], kit: kit)) { |ready, step| step.call(ready) }
        bench.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).wait(2).needle
      end
    expect(needles[0]).to be < 8.0
    expect(needles.drop(1)).to eq([15.4, 15.4])
  end

  it "names a strainer at the wrong end, which the expert turns round" do
    place = variant(kit: {id: "five_valve", serial: "NK-1", checked_on: "2026-03-02", strainer_at_kit: ["high"]})
    actions = expert_actions(place)
    expect(grade(place, actions).mistakes).to eq([])
    expect(grade(place, actions.reject { |act| act[:kind] == "swap_ends" }).mistakes).to eq([:strainer_wrong])
  end

  it "reads a corroded plate only once it is cleaned" do
    bench = tester(plate_state: "corroded").act(:look, at: "plate")
    expect(bench.span.state.looked).not_to include(:plate)
    expect(bench.act(:clean, at: "plate").act(:look, at: "plate").span.state.looked).to include(:plate)
    place = variant(plate_state: "corroded", meter: {number: "M-2207", reading: "004817"})
    expect(grade(place, expert_actions(place)).mistakes).to eq([])
    expect(grade(place, expert_actions(place).reject { |act| act[:field] == "meter_reading" }).mistakes).to eq(
      [:record_incomplete]
    )
  end

  it "stops the expert at a gauge off its zero and at a kit out of date" do
    [{zero_error_psid: 0.4, checked_on: "2026-03-02"}, {checked_on: "2025-06-02"}].each do |kit|
      place = variant(kit: {id: "five_valve", serial: "NK-1", **kit})
      expect(Nurv::Expert::Truth.of(place, place.station.procedures.first)).to be_stopped
      expect(grade(place, expert_actions(place)).mistakes).to eq([])
    end
  end

  it "draws faults and numbers from a seed, each on its own" do
    place = {
      faults: [
        {
          one_of: [
            {id: "check_valve_1_fouled", severity: "gross"},
            {id: "relief_valve_stuck", severity: "gross"},
            {id: "none"}
          ]
        }
      ],
      line: {
        pressure_psi: {
          from: 45,
          to: 75
        }
      }
    }
    made = Nurv::Stations::Station.new(Nurv::Facts.of({**BenchWork::USUAL, **place}), SHIPPED)
    variants = (1..40).map { |seed| Nurv::Stations::Variant.new(made, seed) }
    expect(variants.map { |item| item.station.faults.map { |at| at.fault.id } }.uniq.size).to eq(3)
    expect(variants.map(&:pressure_psi).uniq.size).to be > 20
    expect(variants.map(&:pressure_psi)).to all(be_between(45, 75))
    narrower = Nurv::Stations::Station.new(Nurv::Facts.of({**BenchWork::USUAL, **place, faults: []}), SHIPPED)
    expect(Nurv::Stations::Variant.new(narrower, 7).pressure_psi).to eq(
      Nurv::Stations::Variant.new(made, 7).pressure_psi
    )
  end
end
