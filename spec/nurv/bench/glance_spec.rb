# frozen_string_literal: true

# What eyes in one place see of the rest.
RSpec.describe Nurv::Bench::Glance do
  def tester_at(id) = Tester.new(Nurv::Stations::Variant.new(SHIPPED.demo_stations.find { |one| one.id == id }, 1))

  # A needle that falls, and a relief valve that opens in the end.
  let(:tester) do
    tester_at(:bottle_rinser).two_hoses.turn(:high_control, 1.0).wait(1).turn(:low_control, 0.1).wait(1)
  end

  def frames_of(tester, from_s, to_s) = Nurv::Bench::Frames.new(tester.span, from_s, to_s).to_h

  def seen(tester, from_s, to_s) =
    described_class.new(tester.variant, tester.span.state).of(frames_of(tester, from_s, to_s))

  it "holds the needle to the half psid while the eyes are on the port, and to a hundredth on the gauge" do
    sharp = seen(tester, 30.0, 50.0)[:needle].map(&:last)
    expect(sharp.uniq.size).to be > 20
    tester.act(:watch, at: "relief_port")
    dim = seen(tester, 30.0, 50.0)[:needle].map(&:last)
    expect(dim.map { |psid| psid % 0.5 }).to all(eq(0.0))
    expect(dim.uniq.size).to be < sharp.uniq.size / 2
  end

  it "is off by as much as cannot be timed away, otherwise at each look, and never by more than a psid" do
    errors =
      (1..40).map do |looks|
        tester.wait(0.05).act(:watch, at: "relief_port")
        # Whoever times the steps of what is told knows where between two halves it stands.
        timed = seen(tester, 40.0, 44.0)[:needle].each_cons(2).find { |one, other| one[1] != other[1] }
        ms = (timed[0][0] + timed[1][0]) / 2.0
        (timed[0][1] + timed[1][1]) / 2.0 - tester.span.needle_at(ms / 1000.0)
      end
    expect(errors.map(&:abs).max).to be < 1.0
    expect(errors.map(&:abs).sort[20]).to be > 0.15
    expect(errors.minmax.reduce(:-).abs).to be > 0.6
  end

  it "hides a drop and a trickle from eyes on the gauge, and no stream" do
    tester.wait(30)
    told = ->(list) { list[:outlets][:relief_valve].map(&:last).uniq }
    whole = frames_of(tester, tester.span.from_s, tester.time_s + 30)
    expect(told.call(whole)).to include("drip")
    expect(told.call(seen(tester, tester.span.from_s, tester.time_s + 30)) & %w[drip trickle]).to eq([])
    tester.act(:watch, at: "relief_port")
    expect(told.call(seen(tester, tester.time_s, tester.time_s + 30)).first).not_to eq("dry")
    run = {needle: [[0, 1.0]], outlets: {relief_valve: [[0, "drip"], [500, "stream"], [900, "trickle"]]}}
    on_gauge = described_class.new(tester.variant, tester_at(:bottle_rinser).span.state)
    expect(on_gauge.of(run)[:outlets][:relief_valve]).to eq([[0, "dry"], [500, "stream"], [900, "dry"]])
  end

  it "tells of a poppet that it is down or up, and no more, to eyes on the gauge" do
    tester = tester_at(:pvb_low).turn(:shutoff_valve_2, 0.0).turn(:shutoff_valve_1, 0.0).wait(2)
    tester.act(:turn, valve: "test_cock_2", to: 0.2, speed: "normal")
    sharp = frames_of(tester, tester.time_s, tester.time_s + 60)[:poppet].map(&:last).uniq
    expect(sharp.any? { |open| open.between?(0.01, 0.94) }).to be(true)
    expect(seen(tester, tester.time_s, tester.time_s + 60)[:poppet].map(&:last).uniq - [0.0, 1.0]).to eq([])
    tester.act(:watch, at: "air_inlet")
    expect(seen(tester, tester.time_s, tester.time_s + 60)[:poppet].map(&:last)).to eq(
      frames_of(tester, tester.time_s, tester.time_s + 60)[:poppet].map(&:last)
    )
  end

  it "leaves an assembly alone at which there is nothing to be watched but the gauge" do
    tester = tester_at(:dc_healthy)
    expect(seen(tester, 0.0, 2.0)).to eq(frames_of(tester, 0.0, 2.0))
  end
end
