# frozen_string_literal: true

# A bench on disk, with the water as it runs on after an act: whoever takes it up has the same bench, to the last bit.
RSpec.describe Nurv::Bench::Snapshot do
  include BenchWork

  def cracked(station)
    Tester
      .new(Nurv::Stations::Variant.new(station, 5))
      .connect(high: :test_cock_2)
      .turn(:test_cock_2, 1.0)
      .wait(1)
      .turn(:high_bleed, 0.2)
  end

  def taken_up(span, running)
    state = described_class.load(described_class.dump(span.state))
    Nurv::Bench::Span.new(span.variant, state, running: described_class.load_running(running))
  end

  stations =
    SHIPPED.demo_stations.uniq { |item| [item.assembly.id, item.line[:swing_psi].to_i > 0] }

  stations.each do |station|
    it "lets the water run on as it would have at #{station.id}" do
      bench = cracked(station).wait(40)
      running = described_class.dump_running(bench.span.trajectory.extend_to(45.0).running(38.0))
      other = taken_up(bench.span, running)
      looks = [40.0, 41.7, 45.0, 47.25, 60.0]
      seen = ->(span) { looks.map { |time| [span.needle_at(time), span.rate_at(time), span.water_at(time).to_h] } }
      expect(seen.call(other)).to eq(seen.call(bench.span))
      fewer = other.trajectory.steps.size
      expect(other.trajectory.taken).to eq(bench.span.trajectory.taken).and be > fewer
      # What was before is not forgotten: it is worked out again.
      expect(other.needle_at(2.5)).to eq(bench.span.needle_at(2.5))
      expect(seen.call(other)).to eq(seen.call(bench.span))
    end
  end

  it "keeps nothing of water that has not run on" do
    bench = cracked(stations.first)
    expect(described_class.dump_running(bench.span.trajectory.running(bench.time_s + 1.0))).to be_nil
    expect(described_class.load_running(nil)).to be_nil
  end
end
