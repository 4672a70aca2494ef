# frozen_string_literal: true

# Whoever walks off in the middle of a test, wherever their gauge is held, comes back to a bench that lives.
RSpec.describe "A bench that is left in the middle of a test" do
  idle_s = 900.0

  # Every height that a level of the assembly names, and an inch either way.
  heights = lambda do |station|
    station.assembly.levels.values.flat_map { |level| [-1, 0, 1].map { |off| level.elevation_in + off } }.uniq
  end

  # Moments of a test at which somebody may walk off: after each act, at each height.
  moments = lambda do |station, procedure|
    variant = Nurv::Stations::Variant.new(station, 1)
    replay = Nurv::Bench::Replay.new(variant, Nurv::Expert::Truth.of(variant, procedure).run.log)
    spans = replay.entries.reject { |entry| entry.action.paper? || entry.action.kind == :submit }.map(&:span)
    spans.product(heights.call(station))
  end

  left = lambda do |span, inches|
    at_s = span.from_s + 0.5
    level = Nurv::Bench::Action.new(kind: :level, to: inches.to_f, at_ms: (at_s * 1000).round, id: "walked-off")
    span.after(level)
  rescue Nurv::RefusedAction
    span
  end

  stations = SHIPPED.demo_stations.reject { |one| Nurv::Stations::Variant.new(one, 1).swing_psi.positive? }
  pairs = stations.flat_map { |station| station.procedures.map { |procedure| [station, procedure] } }
  # All of it with NURV_ALL=1: some twelve thousand quarters of an hour.
  every = Sample.times(1, 47)

  pairs.group_by { |_, procedure| procedure.id }.each do |id, group|
    group = group.last(1) unless Sample::ALL
    it "comes to rest within a quarter of an hour, after each act of #{id} and at each height of the gauge" do
      all = group.flat_map { |station, procedure| moments.call(station, procedure).map { |moment| [station, *moment] } }
      all.each_slice(every).map(&:first).each do |station, span, inches|
        walked_off = left.call(span, inches)
        ends_s = walked_off.from_s + idle_s
        trajectory = walked_off.trajectory.extend_to(ends_s)
        last = trajectory.steps.count { |step| step.end_s > ends_s - 60.0 }
        where = "#{station.id} at #{span.from_s} s, gauge at #{inches} in"
        expect(trajectory).not_to be_hurried, where
        expect(last).to be < 1_000, where
      end
    end
  end
end
