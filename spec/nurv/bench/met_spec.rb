# frozen_string_literal: true

# What acts met with, kept beside them: who does the acts again has the same bench, and solves little of its water.
RSpec.describe Nurv::Bench::Met do
  include Dragged

  def kept(replay)
    replay
      .entries
      .each_with_index
      .filter_map { |entry, index| [index, described_class.of(entry.action, entry.before)] }
      .to_h
      .compact
      .transform_values { |met| Nurv::Bench::Snapshot.load_met(Nurv::Bench::Snapshot.dump_met(met)) }
  end

  def grade(replay, procedure)
    policy = SHIPPED.policies.fetch(:standard)
    Nurv::Grading::Grader.new(replay, policy.adjust(procedure), policy).grade.dump
  end

  def solved(replay)
    replay.spans.map(&:trajectory).uniq.sum { |trajectory| trajectory.steps.size }
  end

  # As slow as attempts get, so that there is much water between two acts.
  def slow(log, factor) =
    Nurv::Bench::Log.new(log.map { |act| Nurv::Bench::Action.new({**act.to_h, at_ms: act.at_ms * factor}) })

  stations = SHIPPED.demo_stations.select { |item| item.findings.none?(&:stops?) }

  Sample.of(stations, 7).each do |station|
    it "gives #{station.id} the grade that its log alone gives, to the last line" do
      variant = Nurv::Stations::Variant.new(station, 1)
      procedure = station.procedures.first
      log = slow(dragged(variant, Nurv::Expert::Truth.of(variant, procedure).run.log), 2)
      whole = Nurv::Bench::Replay.new(variant, log)
      again = Nurv::Bench::Replay.new(variant, log, met: kept(whole))
      expect(grade(again, procedure)).to eq(grade(whole, procedure))
      expect(solved(again)).to be < solved(whole) / 2
    end
  end

  swinging = SHIPPED.demo_stations.find { |item| item.id == :rp_swinging }

  it "shows the same needle and the same water at any moment, in whatever order one asks" do
    variant = Nurv::Stations::Variant.new(swinging, 1)
    log = slow(Nurv::Expert::Truth.of(variant, swinging.procedures.first).run.log.first(30).then { |acts|
      Nurv::Bench::Log.new(acts)
    }, 6)
    whole = Nurv::Bench::Replay.new(variant, log)
    met = kept(whole)
    expect(met.values.count(&:running)).to be > 3
    again = Nurv::Bench::Replay.new(variant, log, met: met)
    times = Array.new(60) { |number| whole.end_s * ((number * 37) % 60) / 60.0 }
    seen = ->(replay) do
      times.map do |time|
        span = replay.span_at(time)
        [span.needle_at(time), span.water_at(time), span.outlets_at(time), span.rate_at(time)]
      end
    end
    expect(seen.call(again)).to eq(seen.call(whole))
  end

  it "says nothing of an act on paper with little water before it, nor under other laws of the water" do
    variant = Nurv::Stations::Variant.new(SHIPPED.demo_stations.first, 1)
    span = Nurv::Bench::Span.new(variant, Nurv::Bench::Opening.new(variant).state)
    jot = Nurv::Bench::Action.new(kind: "jot", item: "check_valve_1_apparent", value: "7.0", at_ms: 4_000)
    expect(described_class.of(jot, span)).to be_nil
    turn = Nurv::Bench::Action.new(kind: "turn", valve: "test_cock_4", to: 1.0, at_ms: 4_000)
    text = Nurv::Bench::Snapshot.dump_met(described_class.of(turn, span))
    expect(Nurv::Bench::Snapshot.load_met(text).water).to eq(span.water_at(4.0))
    stub_const("Nurv::Hydraulics::VERSION", Nurv::Hydraulics::VERSION + 1)
    expect(Nurv::Bench::Snapshot.load_met(text)).to be_nil
  end

  # A kit's face that shows numbers shows the last it took: that too is what an act met.
  it "keeps what a digital face showed" do
    digital = SHIPPED.demo_stations.find { |item| item.kit_state[:face] == "digital" }
    variant = Nurv::Stations::Variant.new(digital, 1)
    log = Nurv::Expert::Truth.of(variant, digital.procedures.first).run.log
    whole = Nurv::Bench::Replay.new(variant, log)
    again = Nurv::Bench::Replay.new(variant, log, met: kept(whole))
    expect(again.spans.map { |span| span.state.sampled_psid }).to eq(whole.spans.map { |span| span.state.sampled_psid })
    expect(solved(again)).to eq(0)
  end
end
