# frozen_string_literal: true

# Air is no water: it leaves as air, comes in where water falls away, and neither is made of the other.
RSpec.describe "Air in the hydraulics" do
  pvb = {assembly: "pvb", procedures: ["p1"], kit: {id: "two_valve_bleed", serial: "N", checked_on: "2026-03-02"}}

  # A PVB drained to its inlet, its hose full, its bleed open.
  def drained(kind)
    bench = tester(**kind).connect(high: :test_cock_2).turn(:test_cock_2, 1.0).turn(:high_bleed, 2.5).wait(20)
    bench.turn(:high_bleed, 0.0).wait(1).turn(:shutoff_valve_2, 0.0).wait(2).act(:level, to: 10.0)
    bench.turn(:shutoff_valve_1, 0.0).wait(2).turn(:high_bleed, 1.5).wait(60)
  end

  def gap(bench) = bench.span.water_at(bench.time_s).hose_gap.first

  [13, 20, 30].each do |inches|
    it "comes into a hose whose kit is held at #{inches} in, as far as the water falls, and the gauge reads nothing" do
      bench = drained(pvb).act(:level, to: inches).wait(120)
      expect(bench.needle).to be_within(0.01).of(0.0)
      expect(bench.flow(:high_bleed)).to eq(0.0)
      # A hose with a loop of 8 in rises from a cock at 4 in: what stands above the body's 10 in is empty.
      expect(gap(bench)).to be_within(0.02).of((inches - 10.0) / (8.0 + inches - 4.0))
      expect(bench.span.trajectory.steps.size).to be < 300
    end
  end

  it "is trapped when the bleed is shut on it, and water is as much as before" do
    bench = drained(pvb).act(:level, to: 20).wait(60)
    before = bench.span.water_at(bench.time_s)
    water = ->(state) do
      network = bench.span.network
      pressure = state.pressures[network.hoses[0].node] + network.air_offset_psi(0, state.hose_air[0])
      Nurv::Hydraulics::Hose.water_ml(
        state.hose_air[0],
        state.hose_gap[0],
        (state.hose_gap[0] > 0.0) ? 0.0 : pressure,
        state.hose_late_psi[0]
      )
    end
    held = water.call(before)
    bench.turn(:high_bleed, 0.0).wait(5)
    after = bench.span.water_at(bench.time_s)
    expect(after.hose_gap).to eq([0.0])
    expect(after.hose_air.first).to be_within(0.01).of(before.hose_gap.first + before.hose_air.first)
    expect(water.call(after)).to be_within(0.05).of(held)
  end

  it "fills no more of a hose than there is of it when that is taken off with a gap in it" do
    bench = drained(pvb).act(:level, to: 30).wait(120)
    wide = gap(bench)
    expect(wide).to be > 0.55
    bench.act(:disconnect, hose: "high")
    expect(bench.span.state.water.hose_air.first).to be_within(0.01).of(wide)
  end

  it "leaves a hose as air: what runs out of a bleed is less water than what comes in at the cock" do
    bench = tester.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).wait(3).turn(:high_bleed, 2.5).wait(0.5)
    share = 1.0 - bench.flow(:high_bleed) / bench.span.trajectory.volumes_at(bench.time_s, [:high_bleed])[:high_bleed]
    expect(share).to be_between(0.1, 0.5)
    bench.wait(30)
    expect(bench.flow(:high_bleed)).to be_within(1.0e-3).of(
      bench.span.trajectory.volumes_at(bench.time_s, [:high_bleed])[:high_bleed]
    )
  end

  it "goes from one hose into the next, and out at its end, never from nowhere" do
    bench = tester.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).wait(2).turn(:bypass_control, 2.5)
    bench.turn(:high_control, 2.5)
    air = (0..40).map { |part| bench.span.water_at(bench.time_s + part * 0.5).hose_air.sum }
    expect(air).to eq(air.sort.reverse)
    expect(air.last).to be < 0.5 * air.first
  end

  it "comes and goes with the water of a hose that was never bled, through no act of hanging it otherwise" do
    bench = tester
    bench.turn(:test_cock_3, 0.3).wait(1).turn(:test_cock_3, 0.0).wait(1)
    held = ->(state, network) do
      network.hoses.each_index.sum do |hose|
        node = network.hoses[hose].node
        air = state.hose_air[hose]
        pressure = state.pressures[node] + network.air_offset_psi(hose, air)
        network.nodes[node].capacitance * state.pressures[node] +
          Nurv::Hydraulics::Hose.water_ml(air, state.hose_gap[hose], pressure, state.hose_late_psi[hose])
      end
    end
    before = held.call(bench.span.water_at(bench.time_s), bench.span.network)
    bench.connect(high: :test_cock_2)
    expect(held.call(bench.span.state.water, bench.span.network)).to be_within(1.0e-6).of(before)
    bench.act(:level, to: 12)
    network = bench.span.network
    # Hoses that hang free go up with the kit; the one on the cock keeps its water.
    free = network.hoses.drop(1).sum { |hose| network.nodes[hose.node].capacitance }
    lifted = free * Nurv::Units.head_psi(12.0)
    expect(held.call(bench.span.state.water, network) - lifted).to be_within(1.0e-6).of(before)
  end

  it "holds a level up in a body whose inlet is narrow, and no water is made by it" do
    bench = tester(**pvb, faults: {air_inlet_opens_partly: :gross}).wait(1)
    bench.turn(:shutoff_valve_1, 0.0).turn(:downstream_tap, 1.0)
    span = bench.span
    expect(Ledger.new(span, span.from_s, span.from_s + 30.0).error_ml.abs).to be < 0.1
    bench.wait(30)
    expect(bench.pressure(:level)).to be > bench.pressure(:body)
  end

  it "tells in every chamber how much of the water came from downstream, and how much of it went past CV1" do
    back = ->(**faults) do
      bench = tester(faults: {back_pressure: :moderate, **faults}).turn(:shutoff_valve_1, 0.0).turn(:test_cock_2, 1.0)
      bench.wait(60)
      tracer = bench.span.tracer
      shares = bench.span.water_at(bench.time_s).shares
      [(0..4).map { |place| tracer.from_downstream(shares, place) }, tracer.gone_back_ml(shares)]
    end
    clean, none = back.call
    expect(clean.first(3) + clean.last(1)).to eq([0.0, 0.0, 0.0, 1.0])
    expect(none).to eq([0.0, 0.0])
    both = {check_valve_1_fouled: :gross, check_valve_2_fouled: :gross, relief_valve_stuck: :gross}
    mixed, gone = back.call(**both)
    expect(mixed).to eq(mixed.sort)
    expect(mixed[1]).to be > 0.1
    expect(gone[0]).to be >= gone[1]
    expect(gone[1]).to be > 1.0
  end

  it "puts into a grade what went back past CV1 while the tester was at work, and not what had gone before" do
    went_back = ->(**faults) do
      bench = variant(faults: faults)
      actions = [{kind: "turn", valve: "shutoff_valve_1", to: 0.0, speed: "normal", at_ms: 5_000, id: "a"},
        {kind: "turn", valve: "test_cock_2", to: 1.0, speed: "normal", at_ms: 8_000, id: "b"},
        {kind: "submit", at_ms: 90_000, id: "c"}]
      grade(bench, actions)
    end
    expect(went_back.call.went_back_ml).to eq(0.0)
    both = {back_pressure: :moderate, check_valve_1_fouled: :gross, check_valve_2_fouled: :gross,
            relief_valve_stuck: :gross}
    graded = went_back.call(**both)
    expect(graded).to be_went_back
    again = Nurv::Grading::Grade.load(graded.dump, graded.policy, [graded.procedure])
    expect(again.went_back_ml).to eq(graded.went_back_ml)
    # A bench that is handed in at once has seen nothing go back, whatever went before.
    none = grade(variant(faults: both), [{kind: "submit", at_ms: 0, id: "d"}])
    expect(none.went_back_ml).to eq(0.0)
  end
end
