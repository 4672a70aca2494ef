# frozen_string_literal: true

# Single parts of the hydraulics against what they are said to do.
RSpec.describe "The parts of the hydraulics" do
  hydraulics = Nurv::Hydraulics

  it "solve a sparse system as plain elimination does" do
    random = Random.new(3)
    pairs = [[0, 1], [1, 2], [2, 3], [1, 4], [4, 5], [0, 5]]
    solver = hydraulics::LinearSolver.new(6, pairs)
    20.times do
      rows = Array.new(6) { Array.new(6, 0.0) }
      pairs.each { |from, to| rows[from][to] = rows[to][from] = -random.rand }
      rows.each_with_index { |row, index| row[index] = 1.0 + row.sum(&:abs) + random.rand }
      wanted = Array.new(6) { random.rand - 0.5 }
      vector = rows.map { |row| row.zip(wanted).sum { |factor, value| factor * value } }
      matrix = rows.flatten
      solver.factor!(matrix)
      solver.solve!(matrix, vector)
      vector.zip(wanted).each { |got, value| expect(got).to be_within(1.0e-9).of(value) }
    end
  end

  it "give the flow of an orifice both ways alike, and its slope as the derivative it stands for" do
    law = hydraulics::Law
    [0.02, 0.1, 1.0, 12.0, 60.0].each do |drop|
      expect(law.root(-drop)).to eq(-law.root(drop))
      derivative = (law.root(drop + 1.0e-6) - law.root(drop - 1.0e-6)) / 2.0e-6
      expect(law.slope(drop) * law.steepness(drop)).to be_within(1.0e-4 * derivative).of(derivative)
    end
    # About rest it is the secant, which never falls short of the derivative.
    expect(law.steepness(0.005)).to eq(1.0)
  end

  it "pass less through two valves in a row than through either, and nothing through a shut one" do
    law = hydraulics::Law
    both = law.series(10.0, 5.0)
    expect(both).to be < 5.0
    expect(1.0 / both**2).to be_within(1.0e-12).of(1.0 / 10.0**2 + 1.0 / 5.0**2)
    expect(law.series(10.0, 0.0)).to eq(0.0)
    [law.method(:test_cock), law.method(:needle_valve)].each do |valve|
      expect([0.0, 0.2, 0.5, 1.0].map(&valve).each_cons(2)).to all(satisfy { |less, more| more > less })
    end
    expect(law.needle_valve(2.5)).to eq(law.needle_valve(3.0))
  end

  it "keep a check shut below its spring, let it leak by its seat alone, and open it fast above" do
    tight = hydraulics::CheckValve.new(:check, 0, 1, spring_psid: 8.0, softness_psid: 3.0)
    leaking = hydraulics::CheckValve.new(:check, 0, 1, spring_psid: 8.0, softness_psid: 3.0, leak_k: 0.3)
    expect([tight.flow([58.0, 51.0]), tight.flow([50.0, 60.0])]).to eq([0.0, 0.0])
    expect(leaking.flow([50.0, 60.0])).to be_within(0.01).of(-0.3 * Math.sqrt(10.0))
    expect(tight.flow([62.0, 50.0])).to be > 1000.0
    # An empty chamber gives air back, not water.
    dry = hydraulics::CheckValve.new(:check, 0, 1, spring_psid: 8.0, softness_psid: 3.0, leak_k: 0.3, dry_psi: -0.2)
    expect([dry.flow([-6.0, -0.3]), dry.flow([-6.0, 0.0])]).to match([0.0, be < 0.0])
  end

  it "open a relief valve as the differential falls, and close it 0.15 psid above where it opened" do
    valve = hydraulics::ReliefValve.new(:relief, 0, 1, opening_psid: 3.0, port_psi: -0.2)
    down = [3.2, 3.0, 2.8, 2.6].map { |psid| valve.position = valve.follow([60.0, 60.0 - psid]) }
    expect(down).to match([0.0, be_within(1.0e-9).of(0.0), be_within(1.0e-9).of(0.2), be_within(1.0e-9).of(0.4)])
    up = [2.7, 3.0, 3.14, 3.16].map { |psid| valve.position = valve.follow([60.0, 60.0 - psid]) }
    expect(up).to match([be_within(1.0e-9).of(0.4), be_within(1.0e-9).of(0.15), be_within(1.0e-9).of(0.01), 0.0])
    stuck = hydraulics::ReliefValve.new(:relief, 0, 1, opening_psid: 3.0, port_psi: -0.2, stuck: true)
    expect(stuck.follow([60.0, 60.0])).to eq(0.0)
  end

  it "let a needle run a few hundredths past what it is bound for, lag behind a ramp, and be the same in any steps" do
    gauge = hydraulics::Gauge.new(high: 0, low: 1)
    lag = gauge.lag_s(0.0)
    way = ->(parts, seconds, drive = [8.0, 8.0]) do
      (0...parts).reduce([0.0, 0.0]) do |(needle, speed), part|
        ends = [part, part + 1].map { |share| drive[0] + (drive[1] - drive[0]) * share / parts }
        gauge.follow(needle, speed, *ends, seconds / parts, lag)
      end
    end
    expect((1..100).map { |tenth| way.call(1, tenth * 0.02).first }.max).to be_between(8.1, 8.4)
    way.call(1, 1.0).zip(way.call(50, 1.0)) { |one, many| expect(one).to be_within(1.0e-9).of(many) }
    expect(way.call(1, 3.0).first).to be_within(1.0e-6).of(8.0)
    # A psid a second behind: as far as the lag is long.
    expect(way.call(1, 5.0, [0.0, 5.0]).first).to be_within(1.0e-3).of(5.0 - lag)
    expect(gauge.lag_s(0.4)).to be > lag
  end

  it "let a needle that is driven past a pin meet it, bounce, and rest there" do
    needles = tester.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).then do |bench|
      (0..300).map { |part| bench.span.needle_at(bench.time_s + part * 0.01) }
    end
    met = needles.index { |needle| needle >= hydraulics::Gauge::TOP_PSID - 0.01 }
    expect(needles).to all(be <= hydraulics::Gauge::TOP_PSID)
    expect(needles.last).to eq(hydraulics::Gauge::TOP_PSID)
    expect(needles[met..].min).to be_between(14.5, 15.39)
  end

  it "squeeze trapped air as Boyle says, a part of it late, and make no water of it" do
    air = hydraulics::Air
    [0.0, 10.0, 60.0].each do |psi|
      slope = (air.volume_ml(20.0, psi - 1.0e-4) - air.volume_ml(20.0, psi + 1.0e-4)) / 2.0e-4
      expect(air.capacitance(20.0, psi)).to be_within(1.0e-6).of(slope)
      expect(air.pressure_psi(20.0, air.volume_ml(20.0, psi))).to be_within(1.0e-9).of(psi)
    end
    # Held at a pressure, the late part comes to it, in one step as in ten.
    once = hydraulics::LateAir.after(20.0, 0.0, 5.0, 0.0, 30.0)
    expect(once).to be_within(0.01).of(5.0)
    taken = air.volume_ml(20.0 * air::LATE, 0.0) - air.volume_ml(20.0 * air::LATE, once)
    chord, _, coming = hydraulics::LateAir.over(20.0, 0.0, 5.0, 30.0)
    expect(taken).to be_within(1.0e-9).of(chord * coming)
    # Two short sweeps take as much as one long one.
    swept = hydraulics::Hose.swept(1.0, 6.0, 4.0)
    expect(hydraulics::Hose.swept(hydraulics::Hose.swept(1.0, 6.0, 1.0), 6.0, 3.0)).to be_within(1.0e-12).of(swept)
    expect(swept).to be_between(0.3, 0.6)
  end

  it "know where the needle, pressures and poppet are inside a step as they are at its ends" do
    trajectory = tester.two_hoses.turn(:high_bleed, 2.5).span.trajectory.extend_to(60.0)
    trajectory
      .steps
      .first(60)
      .each_cons(2) do |step, following|
        step
          .pressures(1.0)
          .zip(following.start.pressures)
          .each { |one, other| expect(one).to be_within(1.0e-6).of(other) }
        expect(step.pressures(0.0)).to eq(step.start.pressures)
        expect(step.difference(1, 2, 0.5)).to eq(step.pressures(0.5)[1] - step.pressures(0.5)[2])
      end
    bench =
      tester(
        assembly: "pvb",
        procedures: ["p1"],
        kit: {
          id: "two_valve_in_line",
          serial: "NK-1",
          checked_on: "2026-03-02"
        }
      ).wait(1)
    bench.turn(:shutoff_valve_2, 0.0).wait(2).turn(:shutoff_valve_1, 0.0).wait(2).turn(:test_cock_2, 1.0)
    lift =
      bench
        .span
        .trajectory
        .first_time(bench.time_s, bench.time_s + 60.0) { |time| bench.span.trajectory.air_inlet_at(time) > 0.0 }
    expect(lift).not_to be_nil
    [0.0, 0.05, 0.1, 0.4].each do |later|
      expect(bench.span.trajectory.air_inlet_at(lift + later)).to be_within(1.0e-9).of(
        bench.span.water_at(lift + later).air_inlet_fraction
      )
    end
  end
end
