# frozen_string_literal: true

# What a browser is given to play: just what an eye could see, and no more of it than asked for.
RSpec.describe Nurv::Bench::Frames do
  def frames(bench, seconds = 2.0, **options) =
    described_class.new(bench.span, bench.time_s, bench.time_s + seconds, **options).to_h

  # The needle as a browser draws it: a straight line between points.
  def drawn(points, at_ms)
    right = points.find_index { |point| point[0] >= at_ms } || points.size - 1
    return points[right][1] if right.zero? || points[right][0] == points[right - 1][0]

    left, to = points[right - 1], points[right]
    left[1] + (to[1] - left[1]) * (at_ms - left[0]) / (to[0] - left[0]).to_f
  end

  it "draws the needle within three hundredths of where it is, in far fewer points than the solver's" do
    bench = tester.two_hoses.turn(:high_control, 1.0).wait(1).turn(:low_control, 0.25)
    points = frames(bench, 4.0)[:needle]
    120.times do |part|
      time = bench.time_s + 4.0 * part / 120
      expect(drawn(points, time * 1000)).to be_within(0.03).of(bench.span.needle_at(time))
    end
    expect(points.size).to be < bench.span.trajectory.frame_times(bench.time_s, bench.time_s + 4.0).size
    expect(points.map(&:first)).to eq(points.map(&:first).sort.uniq)
  end

  it "begins and ends where it was asked to, and not before the last act" do
    bench = tester.wait(3).turn(:test_cock_4, 1.0).wait(1)
    expect(frames(bench)).to include(from_ms: 4_000, until_ms: 6_000)
    early = described_class.new(bench.span, 0.0, 3.5).to_h
    expect(early).to include(from_ms: 3_000, until_ms: 3_500)
  end

  it "names the water at a port by its look, once for as long as it stays so" do
    bench = tester.wait(1).turn(:test_cock_4, 1.0)
    words = frames(bench, 3.0)[:outlets][:test_cock_4].map(&:last)
    expect(words.first).to eq("dry")
    expect(words.last).to eq("jet")
    words.each_cons(2) { |one, other| expect(one).not_to eq(other) }
    expect(frames(tester.two_hoses)[:outlets][:relief_valve].map(&:last)).to eq(["dry"])
  end

  it "hides what nobody sees: the demand downstream, and pressures inside unless practice asks for them" do
    bench = variant(line: {pressure_psi: 60, demand: 0.4}).then { |item| Tester.new(item) }.wait(1)
    seen = frames(bench)
    expect(seen[:outlets].keys.map(&:to_s)).to all(satisfy { |id| id != "demand" && !id.start_with?("port_") })
    expect(seen).not_to have_key(:inside)
    inside = frames(bench, inside: true)[:inside]
    expect(inside.keys).to include(:inlet, :zone, :outlet)
    expect(inside[:inlet].last[1]).to be_within(1.0).of(60.0)
  end

  it "holds a frozen face still, whatever the water does behind it" do
    bench =
      tester(kit: {id: "five_valve", face: "digital", serial: "NK-1", checked_on: "2026-03-02"}).two_hoses.act(
        :capture
      )
    bench.turn(:high_bleed, 2.5)
    points = frames(bench, 3.0)[:needle]
    expect(points.size).to eq(1)
    expect(points[0][1]).to be_within(0.1).of(8.0)
    expect((bench.span.needle_at(bench.time_s + 3.0) - points[0][1]).abs).to be > 0.1
  end

  it "shows water left on a body drip beside the relief port after flushing, and nowhere before" do
    expect(frames(tester.wait(1), 10.0)[:outlets]).not_to have_key(:residual)
    bench = tester.wait(1).turn(:test_cock_4, 1.0).wait(3).turn(:test_cock_4, 0.0).wait(2)
    residual = frames(bench, 20.0)[:outlets][:residual]
    expect(residual.map(&:last).uniq.sort).to eq(%w[drip dry])
  end

  it "tells a bleed that spits, as long as its hose holds air, from one that runs clear" do
    tester = Tester.new(Nurv::Stations::Variant.new(SHIPPED.demo_stations.first, 1))
    tester.connect(high: :test_cock_2).turn(:high_bleed, 1.0).wait(1).turn(:test_cock_2, 1.0).wait(1)
    spits = ->(at) { described_class.new(tester.span, at, at + 1.0).to_h[:spits] }
    expect(spits.call(tester.time_s)).to eq([:high_bleed])
    expect(spits.call(tester.time_s + 40)).to be_nil
    expect(tester.span.water_at(tester.time_s + 40).hose_air.first).to be < 0.05
  end
end
