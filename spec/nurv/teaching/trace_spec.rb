# frozen_string_literal: true

# The needle of an attempt as a line.
RSpec.describe Nurv::Teaching::Trace do
  station = SHIPPED.demo_stations.find { |one| one.id == :bottle_rinser }
  variant = Nurv::Stations::Variant.new(station, 1)
  truth = Nurv::Expert::Truth.of(variant, station.procedures.first)
  replay = Nurv::Bench::Replay.new(variant, truth.run.log)

  # What a line through the points says between them.
  def self.at(points, ms)
    index = points.bsearch_index { |one, _| one >= ms } || (points.size - 1)
    return points[index][1] if index.zero? || points[index][0] == points[index - 1][0]

    (t0, p0), (t1, p1) = points[index - 1], points[index]
    p0 + (p1 - p0) * (ms - t0) / (t1 - t0).to_f
  end

  it "is told by few points, and nowhere off by more than a fiftieth of a psid and a rounding" do
    points = described_class.points(replay)
    expect(points.size).to be < 600
    random = Random.new(7)
    off =
      Array.new(400) do
        time_s = 0.5 + random.rand * (replay.end_s - 1.0)
        (self.class.at(points, time_s * 1000.0) - replay.needle_at(time_s)).abs
      end
    expect(off.max).to be < 0.03 + described_class::WITHIN_PSID
  end

  it "is told of a stretch alone, the same as in the whole" do
    from_s, until_s = [40.0, 75.5]
    points = described_class.points(replay, from_s: from_s, until_s: until_s)
    expect(points.map(&:first).minmax).to eq([40_000, 75_500])
    (41..75).each do |time_s|
      expect(self.class.at(points, time_s * 1000.0)).to be_within(0.05).of(replay.needle_at(time_s))
    end
  end

  it "lies over the tester's own line where they do the same, however slowly" do
    slow = truth.run.log.map { |act| Nurv::Bench::Action.new(act.to_h.merge(at_ms: act.at_ms * 2)) }
    own = Nurv::Bench::Replay.new(variant, Nurv::Bench::Log.new(slow))
    expert = described_class.expert(own, station.procedures.first, truth)
    expect(expert.map(&:first)).to eq(expert.map(&:first).sort)
    expect(expert.last.first).to be_within(50).of((own.end_s * 1000).round)
    apparent_ms = truth.run.moments.fetch(:relief_opening) * 2000 - 600
    expect(self.class.at(expert, apparent_ms)).to be_within(0.3).of(own.needle_at(apparent_ms / 1000.0))
  end
end
