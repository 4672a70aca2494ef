# frozen_string_literal: true

# What a tester feels at the bench besides what is read: air that springs, a needle that swings, water stopped short.
RSpec.describe "The feel of a bench" do
  pvb = {
    assembly: "pvb",
    procedures: ["p1"],
    kit: {
      id: "two_valve_bleed",
      serial: "NK-1",
      checked_on: "2026-03-02"
    }
  }

  # Low bleed cracked for a second and shut; how far the needle then still goes from where it was.
  def rebound(bench, turns)
    bench.turn(:low_bleed, turns).wait(0.8).turn(:low_bleed, 0.0).wait(1.2)
    (bench.span.needle_at(bench.time_s + 1.0) - bench.needle).abs
  end

  def unbled = tester.two_unbled_hoses.wait(20)

  it "lets an unbled hose spring back once its bleed is shut, more the further it was cracked, and a bled one not" do
    expect(rebound(tester.two_hoses, 0.25)).to be < 0.02
    expect(rebound(unbled, 0.25)).to be > 0.03
    expect(rebound(unbled, 0.5)).to be > 2.0 * rebound(unbled, 0.25)
  end

  it "leaves something in the gauge after a bleed that was snapped shut, and nothing of it in the reading" do
    after = ->(speed, seconds) do
      bench = tester.two_hoses.turn(:low_bleed, 1.0).wait(3).turn(:low_bleed, 0.0, speed)
      bench.span.needle_at(bench.time_s + seconds)
    end
    settled = after.call("slow", 60)
    expect(after.call("fast", 0.7)).to be < settled - 0.1
    expect(after.call("slow", 4.0)).to be_within(0.02).of(settled)
    expect(after.call("fast", 60)).to be_within(0.002).of(settled)
  end

  it "marks the needle when SOV2 is slammed against full demand, more than when it is closed slowly" do
    marks =
      %w[fast slow].map do |speed|
        bench = tester(line: {pressure_psi: 60, demand: 1.0}).connect(high: :test_cock_2, low: :test_cock_3)
        bench.turn(:test_cock_3, 1.0).turn(:low_bleed, 2.5).wait(1).turn(:test_cock_2, 1.0).turn(:high_bleed, 2.5)
        bench.wait(12).turn(:high_bleed, 0.0).turn(:low_bleed, 0.0).wait(8)
        before = bench.needle
        bench.turn(:shutoff_valve_2, 0.0, speed)
        (0..100).map { |part| bench.span.needle_at(bench.time_s + part * 0.02) }.max - before
      end
    expect(marks[0]).to be_between(0.05, 0.5)
    expect(marks[0]).to be > marks[1] + 0.04
  end

  it "shows a weep in no no-flow check, and a light leak within half a minute" do
    fall = ->(leak_k) do
      bench = variant(assembly: "dc", kit: {id: "three_valve", serial: "NK-1", checked_on: "2026-03-02"},
        line: {pressure_psi: 60, demand: 0.1})
      leaking = bench.dup
      leaking.instance_variable_set(:@edge_settings, bench.edge_settings.merge(shutoff_valve_2: {leak_k: leak_k}))
      across = Tester.new(leaking).turn(:shutoff_valve_2, 0.0).wait(20)
      across.connect(high: :test_cock_2, low: :test_cock_3).turn(:vent_control, 2.5)
      across.turn(:test_cock_2, 1.0).turn(:test_cock_3, 1.0).wait(1).turn(:high_control, 2.5).wait(12)
      across.turn(:high_control, 0.0).wait(1).turn(:low_control, 2.5).wait(12).turn(:low_control, 0.0, "slow")
      across.turn(:vent_control, 0.0).wait(3).connect(vent: :test_cock_4).turn(:test_cock_4, 1.0)
      across.turn(:vent_control, 2.5).turn(:high_control, 2.5).wait(10)
      before = across.needle
      across.turn(:test_cock_2, 0.0)
      before - across.span.needle_at(across.time_s + 25)
    end
    expect(fall.call(0.002)).to be < 0.2
    expect(fall.call(0.05)).to be > 1.0
  end

  it "sinks the water of a sight tube where anyone can see it when the tee is cracked too far" do
    level = ->(turns) do
      bench =
        tester(assembly: "dc", faults: {shutoff_valve_1_leaks: :moderate}).act(
          :fit,
          fitting: "sight_tube",
          to: "test_cock_3"
        )
      bench.act(:fit, fitting: "bleed_off_tee", to: "test_cock_2").connect(high: :test_cock_2)
      bench.turn(:test_cock_3, 1.0).wait(8).turn(:test_cock_3, 0.0).wait(1).turn(:test_cock_2, 1.0)
      bench.turn(:high_bleed, 2.5).wait(12).turn(:high_bleed, 0.0).wait(1).act(:level, to: 9.0)
      bench.turn(:shutoff_valve_2, 0.0).wait(1.5).turn(:shutoff_valve_1, 0.0).wait(1.5).turn(:test_cock_3, 1.0).wait(5)
      bench.turn(:tee_needle, turns).wait(30).pressure(:sight_tube) / Nurv::Units::PSI_PER_INCH_OF_WATER
    end
    expect(level.call(0.6)).to be_within(0.1).of(9.0)
    expect(level.call(1.0)).to be < 8.6
    expect(level.call(2.5)).to be < level.call(1.0)
  end

  it "drains a body slowly through an inlet that opens only partly, the slower the less it opens" do
    levels =
      [{}, {air_inlet_opens_partly: :moderate}, {air_inlet_opens_partly: :gross}].map do |faults|
        bench = tester(**pvb, faults: faults).wait(1).turn(:shutoff_valve_1, 0.0).turn(:downstream_tap, 1.0).wait(20)
        node = bench.span.network.index.key?(:level) ? :level : :body
        bench.pressure(node) / Nurv::Units::PSI_PER_INCH_OF_WATER
      end
    expect(levels).to eq(levels.sort)
    expect(levels[0]).to be < 1.0
    expect(levels[2]).to be > levels[1] + 1.0
  end

  it "takes its time over an air inlet bled an eighth of a turn, and less than a minute" do
    bench = tester(**pvb).connect(high: :test_cock_2).turn(:test_cock_2, 1.0).turn(:high_bleed, 2.5).wait(12)
    bench.turn(:high_bleed, 0.0).wait(1).turn(:shutoff_valve_2, 0.0).wait(2).act(:level, to: 10.0)
    bench.turn(:shutoff_valve_1, 0.0).wait(2).turn(:high_bleed, 0.125)
    span = bench.span
    water = span.trajectory
    lift = water.first_time(bench.time_s, bench.time_s + 90) { |time| water.air_inlet_at(time) > 0.02 }
    expect(lift - bench.time_s).to be_between(15, 50)
    expect(span.needle_at(lift)).to be_within(0.06).of(1.8)
  end

  it "takes a digital reading four times a second, and freezes one of those" do
    digital = {id: "five_valve", face: "digital", serial: "NK-1", checked_on: "2026-03-02"}
    bench = tester(kit: digital).two_hoses.turn(:high_control, 1.0).wait(2).turn(:low_control, 1.0).wait(1.1)
    shown = ->(time) { bench.span.shown_at(time) }
    quarter = (bench.time_s * 4.0).ceil / 4.0
    expect(shown.call(quarter + 0.01)).to eq(shown.call(quarter + 0.24))
    expect(shown.call(quarter + 0.01)).to eq(bench.span.needle_at(quarter))
    expect(shown.call(quarter + 0.26)).not_to eq(shown.call(quarter + 0.24))
    bench.wait(0.1)
    sample = shown.call(bench.time_s)
    expect(bench.act(:capture).span.state.captured_psid).to eq(sample.round(1))
    frames = Nurv::Bench::Frames.new(bench.act(:release).span, bench.time_s, bench.time_s + 2.0).to_h[:needle]
    expect(frames.map(&:last).uniq.size).to be <= 9
  end
end
