# frozen_string_literal: true

RSpec.describe "DC and PVB on the bench" do
  # Sight tube on TC3, tee with the hose on TC2, filled, bled, SOV2 and SOV1 shut, TC3 open.
  def tube_test(**faults)
    bench =
      tester(assembly: "dc", faults: faults).act(:fit, fitting: "sight_tube", to: "test_cock_3").act(
        :fit,
        fitting: "bleed_off_tee",
        to: "test_cock_2"
      )
    bench
      .connect(high: :test_cock_2)
      .turn(:test_cock_3, 1.0)
      .wait(8)
      .turn(:test_cock_3, 0.0)
      .wait(1)
      .turn(:test_cock_2, 1.0)
      .turn(:high_bleed, 2.5)
      .wait(12)
    bench
      .turn(:high_bleed, 0.0)
      .wait(1)
      .act(:level, to: 9.0)
      .turn(:shutoff_valve_2, 0.0)
      .wait(1.5)
      .turn(:shutoff_valve_1, 0.0)
      .wait(1.5)
      .turn(:test_cock_3, 1.0)
  end

  it "reads CV1's spring against the tube, and needs two minutes to show a light leak" do
    expect(tube_test.wait(30).needle).to be_within(0.05).of(2.0)
    leaking = tube_test(check_valve_1_fouled: :light)
    expect(leaking.span.needle_at(leaking.time_s + 10)).to be > 1.0
    expect(leaking.span.needle_at(leaking.time_s + 120)).to be < 0.3
  end

  it "compensates a leaking SOV1 with the tee, and reads low when the tee is cracked too far" do
    dripping = tube_test(shutoff_valve_1_leaks: :moderate)
    expect(dripping.wait(30).flow(:sight_tube_brim)).to be > 1.0
    expect(dripping.needle).to be > 2.05
    right = tube_test(shutoff_valve_1_leaks: :moderate).turn(:tee_needle, 0.6).wait(30)
    expect(right.needle).to be_within(0.05).of(2.0)
    expect(tube_test(shutoff_valve_1_leaks: :moderate).turn(:tee_needle, 1.0).wait(60).needle).to be < 1.0
  end

  def two_hoses_across(high, low, **faults)
    bench =
      tester(
        assembly: "dc",
        faults: faults,
        kit: {
          id: "three_valve",
          serial: "NK-1",
          checked_on: "2026-03-02"
        }
      ).turn(:shutoff_valve_2, 0.0).wait(20)
    bench.connect(high: high, low: low).turn(:vent_control, 2.5).turn(high, 1.0).turn(low, 1.0).wait(1)
    bench
      .turn(:high_control, 2.5)
      .wait(12)
      .turn(:high_control, 0.0)
      .wait(1)
      .turn(:low_control, 2.5)
      .wait(12)
      .turn(:low_control, 0.0, "slow")
      .wait(3)
  end

  it "masks a leaking check while SOV2 leaks, and the no-flow check uncovers it" do
    bare = two_hoses_across(:test_cock_2, :test_cock_3, check_valve_1_fouled: :gross)
    expect(bare.wait(30).needle).to be < 0.2
    masked = two_hoses_across(:test_cock_2, :test_cock_3, check_valve_1_fouled: :gross, shutoff_valve_2_leaks: :gross)
    expect(masked.wait(30).needle).to be >= 1.0
    masked.connect(vent: :test_cock_4).turn(:test_cock_4, 1.0).turn(:high_control, 2.5).wait(10)
    expect(masked.needle).to be < 0.9
  end

  it "shows back pressure as TC4 above TC1 on the line gauge" do
    bench = tester(assembly: "dc", faults: {back_pressure: :moderate}).turn(:shutoff_valve_2, 0.0).wait(20)
    pressures =
      %w[test_cock_1 test_cock_4].map do |cock|
        bench.act(:fit, fitting: "line_gauge", to: cock).turn(cock.to_sym, 1.0).wait(6)
        bench.pressure(:line_gauge).tap { bench.turn(cock.to_sym, 0.0).wait(1).act(:unfit, fitting: "line_gauge") }
      end
    expect(pressures[0]).to be_within(1.0).of(60.0)
    expect(pressures[1]).to be > 75.0
  end

  def air_inlet_test(turns, **faults)
    bench =
      tester(
        assembly: "pvb",
        faults: faults,
        kit: {
          id: "two_valve_bleed",
          serial: "NK-1",
          checked_on: "2026-03-02"
        }
      )
    bench
      .connect(high: :test_cock_2)
      .turn(:test_cock_2, 1.0)
      .turn(:high_bleed, 2.5)
      .wait(12)
      .turn(:high_bleed, 0.0)
      .wait(1)
    bench
      .turn(:shutoff_valve_2, 0.0)
      .wait(2)
      .act(:level, to: 10.0)
      .turn(:shutoff_valve_1, 0.0)
      .wait(2)
      .turn(:high_bleed, turns)
  end

  def opening(bench) =
    bench
      .span
      .trajectory
      .first_time(bench.time_s, bench.time_s + 240) { |time| bench.span.water_at(time).air_inlet_fraction > 0.02 }

  it "reads the air inlet's opening, higher the faster it is bled" do
    needles =
      [0.125, 0.25, 1.5].map { |turns| air_inlet_test(turns).then { |bench| bench.span.needle_at(opening(bench)) } }
    expect(needles[0]).to be_within(0.06).of(1.8)
    expect(needles).to eq(needles.sort)
    expect(needles.last).to be > 1.9
    expect(opening(air_inlet_test(0.25, air_inlet_stuck: :gross))).to be_nil
  end

  it "reads 0.36 psid low on one hose with the gauge 10 in too high" do
    level = air_inlet_test(0.125).then { |bench| bench.span.needle_at(opening(bench)) }
    high = air_inlet_test(0.125).act(:level, to: 20.0).then { |bench| bench.span.needle_at(opening(bench)) }
    expect(high - level).to be_within(0.04).of(-0.36)
  end

  it "moves a bigger assembly's needle at a human pace still" do
    [0.75, 2.0, 6.0].each do |size|
      bench = tester(size_in: size).two_hoses.turn(:high_control, 1.0).wait(2).turn(:low_control, 0.25)
      expect(bench.needle).to be_within(0.1).of(8.0)
      expect(bench.discharge(60) - bench.time_s).to be_between(4, 40)
    end
  end
end
