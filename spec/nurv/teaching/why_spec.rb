# frozen_string_literal: true

# Why the needle does what it does, against the network that moves it.
RSpec.describe Nurv::Teaching::Why do
  include BenchWork

  words = SHIPPED.words

  # Moments of correct tests at which nothing is being turned, drawn by a seed.
  def self.moments(count, seed)
    random = Random.new(seed)
    stations = SHIPPED.demo_stations.reject { |station| station.line[:swing_psi].to_f > 0.0 }.sample(7, random: random)
    stations.flat_map do |station|
      variant = Nurv::Stations::Variant.new(station, 1)
      replay = Nurv::Bench::Replay.new(variant, Nurv::Expert::Truth.of(variant, station.procedures.first).run.log)
      quiet =
        replay.entries.each_cons(2).select do |one, other|
          !one.action.paper? && other.span.from_s - one.span.from_s > 2.0
        end
      next [] if quiet.empty?

      Array.new(count) { quiet.sample(random: random) }.map do |one, other|
        from_s = one.span.from_s + 1.5
        [one.span, from_s + random.rand * (other.span.from_s - from_s - 0.3), station]
      end
    end
  end

  drawn = moments(40, 20_261_126)

  it "names flows that add up to the rise that it names, nearly always to a twentieth of what passes" do
    off =
      drawn.flat_map do |span, time_s, _|
        why = described_class.new(span, time_s)
        [why.high, why.low].filter_map do |side|
          through = [side.in_ml_s, side.out_ml_s].max
          next if through < 0.1 || side.fed_by_main?

          (side.net_ml_s + side.dragged_ml_s - side.capacitance_ml_psi * side.rise_psi_s).abs / through
        end
      end
    expect(off.size).to be > 40
    expect(off.count { |share| share < 0.05 } / off.size.to_f).to be > 0.94
  end

  it "says come in of what comes from where the pressure is higher, and leave of what goes to where it is lower" do
    wrong =
      drawn.flat_map do |span, time_s, _|
        why = described_class.new(span, time_s)
        pressures = span.trajectory.pressures_at(time_s)
        [why.high, why.low].flat_map do |side|
          node = side.name && span.network.index[side.name] or next []
          side.told.reject(&:air).select do |flow|
            edge = span.network.edge(flow.way)
            next if edge.is_a?(Nurv::Hydraulics::Source) || edge.is_a?(Nurv::Hydraulics::KitPassage)

            other = ([edge.from, edge.to] - [node]).first
            other && (pressures[other] - pressures[node]) * flow.ml_s < -0.05
          end
        end
      end
    expect(wrong).to eq([])
  end

  it "finds words for every moment, in kPa as well, and none of them is empty" do
    drawn.each do |span, time_s, station|
      %i[psi kpa].each do |unit|
        about = Nurv::Words::About.new(assembly: station.assembly, kit: station.kit, repairs: {}, unit: unit)
        told = described_class.new(span, time_s).remarks.map { |remark| words.tell(remark, about) }
        expect(told.size).to be >= 2
        expect(told.join(" ")).not_to match(/%[{<]|_| ,|  |\bpsid\b.*kPa/)
      end
    end
  end

  # The zone is fed through the low control while the relief valve is tested; a fouled check takes some of it away.
  def relief_test(fault)
    station = Nurv::Expert::Matrix.new(SHIPPED).station(SHIPPED.procedures.fetch(:r1), fault, fault && :moderate)
    variant = Nurv::Stations::Variant.new(station, 1)
    run = Nurv::Expert::Truth.of(variant, station.procedures.first).run
    replay = Nurv::Bench::Replay.new(variant, run.log)
    opened = replay.entries.find { |entry| entry.action[:valve] == "low_control" && entry.action[:to].to_f.positive? }
    [opened.span, opened.span.from_s + 2.0]
  end

  it "tells the gauge's height from the outlet that stands open, which is another one where the assembly stands" do
    one = variant(direction: "upwards")
    bench = Tester.new(one)
    bench.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).wait(1).turn(:high_bleed, 2.5).wait(15)
    bench.turn(:high_bleed, 0.0).turn(:shutoff_valve_1, 0.0).turn(:test_cock_3, 1.0).wait(5)
    told = lambda do |height|
      bench.act(:level, to: height).wait(1)
      remarks = described_class.new(bench.span, bench.time_s).remarks
      remarks.map { |remark| SHIPPED.words.tell(remark, Nurv::Words::About.new(assembly: one.station.assembly)) }
        .grep(/gauge hangs/)
    end
    height = one.station.assembly.test_cocks[:test_cock_3].elevation_in
    expect(told.call(height)).to eq([])
    expect(told.call(height - 6.0)).to match([/hangs 6 in below the outlet of TC3.*0\.2 psid too much/])
    # Level with another cock is not level.
    expect(told.call(one.station.assembly.test_cocks[:test_cock_4].elevation_in)).to match([/above the outlet of TC3/])
  end

  it "says what feeds the zone, what is shut, and that the needle falls as fast as the zone rises" do
    why = described_class.new(*relief_test(nil))
    expect(why.remarks.map(&:id)).to start_with(:why_falls, :why_main)
    expect(why.low).to have_attributes(name: :zone, rise_psi_s: be > 0.1)
    expect(why.low.told.map(&:way)).to include(:low_control)
    expect(why.rate_psid_s).to be_within(0.15).of(-why.low.rise_psi_s)
  end

  it "asks where the water can go where the inside is not shown, and names what lets by only where it is" do
    place = relief_test(SHIPPED.faults.fetch(:check_valve_2_fouled))
    open, closed = [true, false].map { |open| described_class.new(*place, open: open) }
    named = ->(why) do
      why.remarks.flat_map { |remark| remark.values.values_at(:ways_in, :ways_out) }.compact.flatten(1)
    end
    expect(named.call(open).map(&:first)).to include(:check_valve_2)
    expect(named.call(closed).map(&:first)).not_to include(:check_valve_2)
    asked = closed.remarks.find { |remark| remark.values[:candidates] }
    expect(asked.values[:candidates]).to include(:check_valve_1, :check_valve_2, :relief_valve)
  end
end
