# frozen_string_literal: true

RSpec.describe "The laws of the hydraulics" do
  def network(nodes, edges, gauge: nil)
    Nurv::Hydraulics::Network.new(
      nodes: nodes,
      edges: edges,
      cross_capacitances: [],
      hoses: [Nurv::Hydraulics::Hose.new(:high, 0, far_passage: nil)],
      gauge: gauge || Nurv::Hydraulics::Gauge.new(high: 0, low: nodes.size - 1, hoses: [0, nil])
    )
  end

  def state(pressures)
    Nurv::Hydraulics::State.new(
      time_s: 0.0,
      pressures: pressures,
      relief_position: 0.0,
      air_inlet_fraction: 0.0,
      air_inlet_target: 0.0,
      air_present: Array.new(pressures.size, false),
      hose_air: [0.0],
      hose_gap: [0.0],
      hose_late_psi: [0.0],
      needle_psid: 0.0
    )
  end

  def node(id, capacitance) = Nurv::Hydraulics::Node.new(id, capacitance)

  def orifice(id, from, to, k) = Nurv::Hydraulics::Passage.new(id, from, to, [Nurv::Hydraulics::Valve.orifice(k)])

  # C dP/dt = −K √P (ε is far below P): √P falls in a straight line.
  def blown_down(psi, k, capacitance, time) = (Math.sqrt(psi) - k * time / (2.0 * capacitance))**2

  it "blows a volume down through an orifice as the closed form says, to 0.01 psi" do
    k = 2.0
    capacitance = 5.0
    drain = network([node(:tank, capacitance)], [orifice(:out, 0, Nurv::Hydraulics::Passage::AIR, k)])
    trajectory = Nurv::Hydraulics::Trajectory.new(drain, state([40.0]))

    [1.0, 5.0, 10.0, 20.0].each do |time|
      expect(trajectory.pressures_at(time)[0]).to be_within(0.01).of(blown_down(40.0, k, capacitance, time))
    end
  end

  it "carries the same flow through valves in series" do
    chain =
      network(
        [node(:a, 1.0), node(:b, 0.01), node(:c, 1.0)],
        [
          Nurv::Hydraulics::Source.new(:main, 0, k: 500.0, pressure_psi: Nurv::Hydraulics::Ramp.at(60.0)),
          orifice(:first, 0, 1, 10.0),
          orifice(:second, 1, 2, 5.0),
          orifice(:out, 2, Nurv::Hydraulics::Passage::AIR, 8.0)
        ]
      )
    flows = Nurv::Hydraulics::Trajectory.new(chain, state([60.0, 30.0, 0.0])).flows_at(20.0, %i[first second out])
    expect(flows.values).to all(be_within(1.0e-3).of(flows[:first]))
  end

  it "holds a check's spring as static differential, to 0.05 psid" do
    [5.5, 7.0, 8.0, 9.0].each do |spring|
      bench = tester(springs_psid: {check_valve_1: spring}).two_hoses.wait(10)
      expect(bench.needle).to be_within(0.05).of(spring)
    end
  end

  it "shifts a one-hose reading by 0.0361 psi an inch, and a two-hose reading not at all" do
    one =
      tester
        .connect(high: :test_cock_2)
        .turn(:test_cock_2, 1.0)
        .turn(:high_bleed, 2.5)
        .wait(20)
        .turn(:high_bleed, 0.0)
        .wait(1)
    one.turn(:shutoff_valve_2, 0.0).turn(:shutoff_valve_1, 0.0).wait(2).turn(:test_cock_3, 1.0).wait(30)
    level = one.needle
    expect(one.act(:level, to: 10.0).wait(3).needle - level).to be_within(0.004).of(-0.361)

    two = tester.two_hoses
    level = two.needle
    expect(two.act(:level, to: 10.0).wait(3).needle).to be_within(0.004).of(level)
  end

  it "conserves water over a whole test to 0.1 mL, whatever is wrong with the assembly" do
    [
      {},
      {check_valve_1_fouled: :moderate},
      {relief_valve_stuck: :gross},
      {shutoff_valve_2_leaks: :light}
    ].each do |faults|
      bench = variant(faults: faults)
      error, throughput =
        Ledger.of(
          Nurv::Bench::Replay.new(bench, Nurv::Expert::Truth.of(bench, bench.station.procedures.first).run.log)
        )
      expect(throughput).to be > 1000.0
      expect(error.abs).to be <= 0.1
    end
  end

  it "would see water go missing: the same act, followed carelessly, is out by more than that" do
    bench = tester
    bench.turn(:test_cock_2, 1.0)
    span = bench.span
    slack = Nurv::Hydraulics::Trajectory.new(span.network, span.state.water, tightness: 5000.0)
    course = Struct.new(:network, :trajectory).new(slack.network, slack)
    careless = Nurv::Bench::Span.new(bench.variant, span.state, course)
    expect(Ledger.new(careless, span.from_s, span.from_s + 3.0).error_ml.abs).to be > 0.1
    expect(Ledger.new(span, span.from_s, span.from_s + 3.0).error_ml.abs).to be < 0.05
  end

  it "gains four digits for ten times the steps: fourth order" do
    ends =
      [0.5, 0.05, 0.002].map do |step|
        integrator =
          Nurv::Hydraulics::Integrator.new(
            network([node(:tank, 5.0)], [orifice(:out, 0, Nurv::Hydraulics::Passage::AIR, 2.0)])
          )
        (2.0 / step)
          .round
          .times
          .reduce(state([40.0])) do |water, _|
            integrator.try(water, step) && water.with(pressures: integrator.pressures)
          end
          .pressures[
          0
        ]
      end
    expect((ends[0] - ends[2]).abs / (ends[1] - ends[2]).abs).to be > 3000.0
  end

  it "agrees with itself at steps at least twenty times smaller: needle to 0.05 psid, discharge to 0.05 s" do
    bench = variant
    run = Nurv::Expert::Truth.of(bench, bench.station.procedures.first).run
    replay = Nurv::Bench::Replay.new(bench, run.log)
    turns = replay.entries.select { |entry| !entry.action.paper? }
    worst = 0.0
    turns.each_with_index do |entry, index|
      span = entry.span
      seconds = [(turns[index + 1]&.action&.time_s || span.from_s + 3.0) - span.from_s, 0.2].max.clamp(0.2, 6.0)
      coarse = Nurv::Hydraulics::Trajectory.new(span.network, span.state.water).extend_to(span.from_s + seconds)
      step = seconds / (coarse.steps.size * 20.0)
      fine =
        Nurv::Hydraulics::Trajectory.new(
          Nurv::Bench::Plumbing.new(bench, span.state).network,
          span.state.water,
          longest_step_s: step
        )
      fine.extend_to(span.from_s + seconds)
      expect(fine.steps.size).to be >= coarse.steps.size * 20 * 0.95
      20.times do |part|
        time = span.from_s + seconds * (part + 1) / 20.0
        miss = (coarse.needle_at(time) - fine.needle_at(time)).abs
        worst = [worst, miss].max
      end
      next unless entry.action.named(:valve) == :low_control && entry.action[:to].between?(0.24, 0.26)

      moments =
        [coarse, fine].map do |way|
          way.first_time(span.from_s, span.from_s + 15.0) do |time|
            way.flows_at(time, [:relief_valve])[:relief_valve] >= Nurv::Bench::Flow::LEAST[:drip]
          end
        end
      expect(moments[0]).to be_within(0.05).of(moments[1])
    end
    expect(worst).to be <= 0.05
  end

  it "gives the same bits in two processes" do
    script =
      'require "nurv"; s = Nurv::Catalog.shipped.demo_stations[3]; v = Nurv::Stations::Variant.new(s, 9); ' \
        "r = Nurv::Expert::Truth.of(v, s.procedures.first).run; require 'digest'; " \
        "w = Nurv::Bench::Replay.new(v, r.log).last.state.water; " \
          "puts Digest::SHA256.hexdigest(r.log.to_jsonl + w.to_h.inspect)"
    digests = Array.new(2) { IO.popen([RbConfig.ruby, "-Ilib", "-e", script], &:read) }
    expect(digests[0]).to match(/\A\h{64}$/)
    expect(digests[0]).to eq(digests[1])
  end

  it "comes to the same state whether looked at often or once" do
    busy = tester.two_hoses
    40.times { |look| busy.span.needle_at(busy.time_s + look * 0.173) }
    expect(busy.span.water_at(busy.time_s + 9.0).to_h).to eq(
      tester.two_hoses.then { |calm| calm.span.water_at(calm.time_s + 9.0).to_h }
    )
  end

  it "is the same at many moments in one go as at each of them, to the bit" do
    bench = tester.two_hoses.turn(:low_control, 0.25).turn(:test_cock_4, 1.0)
    span = bench.span
    way = span.trajectory
    ids = span.outlet_ids
    times = Array.new(25) { |part| bench.time_s + 0.13 * part }
    seen = []
    way.moments(times) do |time, pressures, state|
      flows = ids.to_h { |id| [id, span.network.water_flow(span.network.edge(id), pressures, state)] }
      seen << [time, pressures, flows]
    end
    expect(seen).to eq(times.map { |time| [time, way.pressures_at(time), way.flows_at(time, ids)] })
    expect(seen.map { |_, _, flows| flows[:test_cock_4] }.minmax.then { |least, most| most - least }).to be > 1.0
  end

  it "survives thousands of random legal acts without a wild value" do
    random = Random.new(20_261)
    benches = [
      {},
      {faults: {check_valve_1_fouled: :gross}},
      {line: {pressure_psi: 90, swing_psi: 3.0}},
      {faults: {shutoff_valve_2_leaks: :gross}}
    ]
    acts = 0
    benches.each do |setting|
      bench = tester(**setting)
      controls =
        bench.variant.station.kit.valves.keys + bench.variant.station.assembly.test_cocks.keys +
        %i[shutoff_valve_1 shutoff_valve_2]
      Sample.times(500, 150).times do
        bench.wait(random.rand * 2.5)
        begin
          case random.rand(10)
          when 0..6
            control = controls.sample(random: random)
            top = bench.variant.station.kit.valves.key?(control) ? 2.5 : 1.0
            bench.turn(
              control,
              [0.0, top, (random.rand * top).round(2)].sample(random: random),
              %w[slow normal fast].sample(random: random)
            )
          when 7
            bench.connect(%i[high low bypass].sample(random: random) => :"test_cock_#{random.rand(1..4)}")
          when 8
            bench.act(:disconnect, hose: %w[high low bypass].sample(random: random))
          else
            bench.act(:level, to: random.rand(-20..20))
          end
          acts += 1
        rescue Nurv::RefusedAction
          next
        end
        pressures = bench.span.water_at(bench.time_s).pressures
        expect(pressures).to all(be_between(-20.0, 140.0))
        expect(bench.needle).to be_between(-0.5, 15.4)
      end
      expect(bench.span.trajectory.steps.size).to be < 2_000
    end
    expect(acts).to be > Sample.times(1_200, 360)
  end
end

RSpec.describe Nurv::Hydraulics::Trajectory do
  it "goes on to the same bits when it lets go of what was long ago, and keeps little" do
    station = SHIPPED.demo_stations.find { |item| item.id == :rp_swinging }
    variant = Nurv::Stations::Variant.new(station, 1)
    start = Nurv::Bench::Opening.new(variant).state
    whole, tidied = Array.new(2) { Nurv::Bench::Span.new(variant, start).trajectory }
    most = 0
    (1..90).each do |second|
      tidied.extend_to(second + 2)
      tidied.forget_before(second - 10)
      most = [most, tidied.steps.size].max
      moment = second - 2.7
      next if moment < 0

      expect(tidied.state_at(moment).to_h).to eq(whole.state_at(moment).to_h)
      expect(tidied.needle_at(moment)).to eq(whole.needle_at(moment))
    end
    expect(whole.steps.size).to be > 450
    expect(most).to be < whole.steps.size / 4
    expect(tidied.state_at(5.0).time_s).to be >= 70.0
  end
end
