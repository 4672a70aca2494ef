# frozen_string_literal: true

# A bench cannot die: whatever is left standing open, its water comes to rest or runs on, and can be asked for ever.
RSpec.describe "A bench that is left alone" do
  steps = ->(bench, seconds) { bench.span.trajectory.extend_to(bench.time_s + seconds).steps }
  one_hose = {id: "two_valve_bleed", serial: "NK-1", checked_on: "2026-03-02"}

  # High hose on TC2, bled, shutoffs closed, and the bleed cracked: P1 at its air inlet.
  def at_the_air_inlet(gauge_in)
    bench =
      tester(assembly: "pvb", procedures: ["p1"], kit: {id: "two_valve_bleed", serial: "N", checked_on: "2026-03-02"})
    bench.connect(high: :test_cock_2).turn(:high_bleed, 2.5).turn(:test_cock_2, 1.0).wait(10).turn(:high_bleed, 0.0)
    bench.turn(:shutoff_valve_2, 0.0).wait(2).act(:level, to: gauge_in).turn(:shutoff_valve_1, 0.0).wait(2)
    bench.turn(:high_bleed, 0.25)
  end

  [9, 10, 11].each do |inches|
    it "stands at the brim of a PVB, its gauge held at #{inches} in, without making and unmaking a surface" do
      bench = at_the_air_inlet(inches)
      expect(steps.call(bench, 900).size).to be < 600
      expect(bench.span.needle_at(bench.time_s + 900)).to be_within(0.1).of(0.0)
    end
  end

  [0.03, 0.04, 0.05, 0.06].each do |opening|
    it "runs out of the side of a tee what a cock cracked #{opening} lets in, and hunts about no brim" do
      bench = tester(assembly: "dc", procedures: ["d1"], kit: one_hose)
      bench.turn(:test_cock_2, opening).wait(3).act(:fit, fitting: "bleed_off_tee", to: "test_cock_2").wait(1)
      expect(steps.call(bench, 600).size).to be < 300
      let_in = bench.span.flow_at(bench.time_s + 600, :test_cock_2)
      expect(let_in).to be_between(0.3, 2.0)
      expect(bench.span.flow_at(bench.time_s + 600, :tee_side)).to be_within(0.001).of(let_in)
    end
  end

  # Hands that do anything at all: cocks a hair open, tees and tubes on them, hoses on and off, and long waits.
  def wild_act(bench, random)
    cocks = bench.variant.station.assembly.test_cocks.keys.map(&:to_s)
    kit = bench.variant.station.kit
    valves = cocks + kit.valves.keys.map(&:to_s) + %w[tee_needle downstream_tap shutoff_valve_1 shutoff_valve_2]
    fitting = %w[bleed_off_tee sight_tube line_gauge].sample(random: random)
    case random.rand(6)
    when 0, 1, 2
      bench.turn(valves.sample(random: random), [0.0, 0.03, 0.05, 0.06, 0.1, 0.25, 1.0, 2.5].sample(random: random))
    when 3 then bench.connect(kit.hoses.keys.sample(random: random) => cocks.sample(random: random))
    when 4 then bench.act(:fit, fitting: fitting, to: cocks.sample(random: random))
    else bench.act(:level, to: [-40, 0, 3, 9, 10, 11, 20, 40].sample(random: random))
    end
  rescue Nurv::RefusedAction
    nil
  end

  it "comes to rest whatever was done to it: never over a thousand steps in a minute that nobody touches" do
    stations = SHIPPED.demo_stations.reject { |one| Nurv::Stations::Variant.new(one, 1).swing_psi.positive? }
    Sample.times(1_700, 8).times do |number|
      random = Random.new(number)
      bench = Tester.new(Nurv::Stations::Variant.new(stations.sample(random: random), number + 1))
      60.times do
        wild_act(bench, random)
        next bench.wait(random.rand(0.1..8.0)) if random.rand > 0.15

        bench.wait(random.rand(120..600))
        taken = steps.call(bench, 0.0)
        expect(taken.count { |step| step.end_s > bench.time_s - 60.0 }).to be < 1_000, "station of #{number}"
      end
    end
  end

  it "makes no water when air first gets into a body under vacuum" do
    node = Nurv::Hydraulics::Node
    surface = node::FreeSurface.new(350.0, 0.0, 0.6)
    body = node.new(:body, 1.0, free_surface: surface)
    network = Nurv::Hydraulics::Network.new(nodes: [body], edges: [], cross_capacitances: [], hoses: [], gauge: nil)
    state = ->(psi, air) { Nurv::Hydraulics::State.new(pressures: [psi], air_present: [air]) }
    after = Nurv::Hydraulics::Turning.brimful(network, state.call(-2.0, false), state.call(-2.0, true)).first
    lacking = (0.6 - -2.0) * 1.0
    expect((0.6 - after) * (1.0 + surface.capacitance)).to be_within(1e-9).of(lacking)
  end

  it "goes on with longer steps where it has met its cap, and comes to the same" do
    bench = at_the_air_inlet(10)
    usual = bench.span.needle_at(bench.time_s + 100)
    stub_const("Nurv::Hydraulics::Trajectory::MOST_STEPS", 15)
    hurried = Nurv::Bench::Span.new(bench.variant, bench.span.state)
    expect(hurried.needle_at(bench.time_s + 100)).to be_within(0.05).of(usual)
    expect(hurried.trajectory).to be_hurried
  end

  it "keeps its water running when a canopy comes off or goes on under a swinging main" do
    bench =
      tester(
        assembly: "pvb",
        procedures: ["p1"],
        kit: one_hose,
        line: {pressure_psi: 60, swing_psi: 1.0}
      ).wait(30)
    before = bench.span.trajectory
    expect(bench.act(:canopy, to: "off").span.trajectory).to equal(before)
  end
end
