# frozen_string_literal: true

# The same laws for every assembly, kit and fitting: one network, so one set of laws.
RSpec.describe "The laws of the hydraulics at every bench" do
  def bench_for(id, faults: {})
    kind = SHIPPED.procedures.fetch(id)
    variant(
      assembly: kind.assembly.to_s,
      faults: faults,
      procedures: [id.to_s],
      kit: {
        id: kind.kits.first.to_s,
        serial: "NK-1",
        checked_on: "2026-03-02"
      }
    )
  end

  def replay(bench) =
    Nurv::Bench::Replay.new(bench, Nurv::Expert::Truth.of(bench, bench.station.procedures.first).run.log)

  %i[r2 d1 d2 d3 p1 p2].each do |id|
    it "conserve water over a whole #{id} test to 0.1 mL" do
      error, throughput = Ledger.of(replay(bench_for(id)))
      expect(throughput).to be > 500.0
      expect(error.abs).to be <= 0.1
    end
  end

  it "conserve water to 0.1 mL on a big assembly, and where it is opened, mended and tested again" do
    %w[fire_riser rp_mend].each do |id|
      station = SHIPPED.demo_stations.find { |item| item.id.to_s == id }
      expect(Ledger.of(replay(Nurv::Stations::Variant.new(station, 1)))[0].abs).to be <= 0.1
    end
  end

  # Nothing is ever at rest there, and a needle that swings is not read to a hundredth, so it is followed with less
  # care.
  it "conserve water to a fiftieth of a percent under a main that swings" do
    station = SHIPPED.demo_stations.find { |item| item.id.to_s == "rp_swinging" }
    error, throughput = Ledger.of(replay(Nurv::Stations::Variant.new(station, 1)))
    expect(error.abs).to be <= 0.0002 * throughput
  end

  # The method is as good as the slopes it is told. Within a hundredth of a psi of rest they are secants on purpose, so
  # the water is looked at stirred.
  %i[r1 r2 d2 p1 p2].each do |id|
    it "know the slopes of all flows through #{id} once they run, to a thousandth" do
      random = Random.new(7)
      checked = Hash.new(0)
      replay(bench_for(id)).spans.select { |span| span.network.turned.any? }.each do |span|
        start = span.trajectory.state_at(span.from_s + 0.4)
        span.network.at(start.time_s, start)
        stirred = start.pressures.map { |psi| psi + random.rand(-3.0..3.0) }
        span.network.ways.each { |way| checked[way.class] += slopes_agree(way, stirred) }
      end
      expect(checked.values.sum).to be > 200
      expect(checked).to include(Nurv::Hydraulics::AirInlet => be > 0) if id == :p2
    end
  end

  # @return [Integer] pressures that the way's slopes were held against differences for
  def slopes_agree(way, pressures)
    # In its play it stands still, and is told to move: see ReliefValve#stamp.
    return 0 if way.is_a?(Nurv::Hydraulics::ReliefValve) && way.follow(pressures) == way.position

    size = pressures.size
    matrix = Array.new(size * size, 0.0)
    way.stamp(pressures, Array.new(size, 0.0), matrix, size)
    (0...size).count do |node|
      # Where they differ thrice as far apart, something bends, opens or shuts in between.
      near, far = [1.0e-5, 3.0e-5].map { |apart| slopes_by(way, pressures, node, apart) }
      next false if near.zip(far).any? { |one, other| (one - other).abs > 1.0e-4 * one.abs + 1.0e-6 }
      # Nothing passes, or next to nothing: by its slope, what drives it is a hair.
      next false if way.flow(pressures).abs <= 0.02 * near.map(&:abs).max

      slopes = (0...size).map { |row| 0.0 - matrix[row * size + node] }
      expect(slopes).to match(near.map { |slope| be_within(1.0e-3 * slope.abs + 1.0e-5).of(slope) }), way.id.to_s
    end
  end

  # What each node gains by a psi at one of them.
  def slopes_by(way, pressures, node, apart)
    over, under =
      [apart, -apart].map do |by|
        there = pressures.dup.tap { |psi| psi[node] += by }
        Array.new(pressures.size, 0.0).tap { |flows| way.stamp(there, flows, nil, pressures.size) }
      end
    over.zip(under).map { |more, less| (more - less) / (2.0 * apart) }
  end

  it "follow a hose full of air with no more steps than a wet one asks for twice over" do
    wet, airy =
      [0.0, 1.0].map do |air|
        bench = bench_for(:r1)
        start = Nurv::Bench::Opening.new(bench).state
        connected = Nurv::Bench::Span.new(bench, start)
        %w[high low].zip(%w[test_cock_2 test_cock_3]).each_with_index do |(hose, cock), index|
          act = {kind: "connect", hose: hose, to: cock, at_ms: 1_000 * (index + 1), id: "c#{index}"}
          connected = connected.after(Nurv::Bench::Action.new(act))
        end
        filled = connected.state.with(water: connected.state.water.with(hose_air: [air] * 3))
        Nurv::Bench::Span.new(bench, filled).after(
          Nurv::Bench::Action.new(kind: "turn", valve: "test_cock_2", to: 1.0, speed: "normal", at_ms: 4_000, id: "t")
        ).trajectory.extend_to(8.0).taken
      end
    expect(airy).to be <= 2 * wet
  end

  Sample.of(%i[d1 p1 d3], 3).each do |id|
    it "agree with themselves at far smaller steps through #{id}, needle to 0.05 psid" do
      turns = replay(bench_for(id)).entries.reject { |entry| entry.action.paper? }
      worst =
        turns
          .each_with_index
          .map do |entry, index|
            span = entry.span
            seconds = [(turns[index + 1]&.action&.time_s || span.from_s + 3.0) - span.from_s, 0.2].max.clamp(0.2, 4.0)
            coarse = Nurv::Hydraulics::Trajectory.new(span.network, span.state.water).extend_to(span.from_s + seconds)
            fine =
              Nurv::Hydraulics::Trajectory.new(
                Nurv::Bench::Plumbing.new(span.variant, span.state).network,
                span.state.water,
                longest_step_s: seconds / (coarse.steps.size * 20.0)
              )
            fine.extend_to(span.from_s + seconds)
            expect(fine.steps.size).to be >= coarse.steps.size * 19
            (1..10)
              .map do |part|
                (
                  coarse.needle_at(span.from_s + seconds * part / 10.0) -
                    fine.needle_at(span.from_s + seconds * part / 10.0)
                ).abs
              end
              .max
          end
          .max
      expect(worst).to be <= 0.05
    end
  end

  it "survive random hands at double checks and vacuum breakers, with fittings, repairs and trouble" do
    random = Random.new(77)
    {
      d1: {
        check_valve_1_fouled: :gross
      },
      d2: {
        shutoff_valve_2_leaks: :gross
      },
      d3: {
        back_pressure: :moderate
      },
      p1: {
        air_inlet_opens_partly: :gross
      }
    }.each do |id, faults|
      kind = SHIPPED.procedures.fetch(id)
      bench =
        tester(
          assembly: kind.assembly.to_s,
          faults: faults,
          procedures: [id.to_s],
          after_failure: "repair_and_retest",
          kit: {
            id: kind.kits.first.to_s,
            serial: "NK-1",
            checked_on: "2026-03-02"
          }
        )
      assembly = bench.variant.station.assembly
      kit = bench.variant.station.kit
      cocks = assembly.test_cocks.keys.map(&:to_s)
      done = 0
      250.times do
        bench.wait(random.rand * 2.0)
        begin
          case random.rand(14)
          when 0..6
            control =
              (
                kit.valves.keys + assembly.test_cocks.keys +
                  %i[shutoff_valve_1 shutoff_valve_2 tee_needle downstream_tap]
              ).sample(random: random)
            top = (kit.valves.key?(control) || control == :tee_needle) ? 2.5 : 1.0
            bench.turn(
              control,
              [0.0, top, (random.rand * top).round(2)].sample(random: random),
              %w[slow normal fast].sample(random: random)
            )
          when 7
            bench.act(:connect, hose: kit.hoses.keys.sample(random: random).to_s, to: cocks.sample(random: random))
          when 8
            bench.act(:disconnect, hose: kit.hoses.keys.sample(random: random).to_s)
          when 9
            bench.act(
              :fit,
              fitting: %w[sight_tube bleed_off_tee line_gauge].sample(random: random),
              to: cocks.sample(random: random)
            )
          when 10
            bench.act(:unfit, fitting: %w[sight_tube bleed_off_tee line_gauge].sample(random: random))
          when 11
            bench.act(:level, to: random.rand(-20..20))
          when 12
            bench.act(
              :repair,
              component: assembly.components.sample(random: random).to_s,
              action: SHIPPED.repairs.keys.sample(random: random).to_s
            )
          else
            bench.act(:inject, swing_psi: random.rand(0..3))
          end
          done += 1
        rescue Nurv::RefusedAction
          next
        end
        expect(bench.span.water_at(bench.time_s).pressures).to all(be_between(-20.0, 140.0))
        expect(bench.needle).to be_between(-0.5, 15.4)
      end
      expect(done).to be > 100
    end
  end
end
