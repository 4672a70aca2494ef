# frozen_string_literal: true

# What a page is told of the inside, against the network; and that it is told nothing unless it may see it.
RSpec.describe Nurv::Bench::Frames do
  def frames(fault, inside: true)
    r1 = SHIPPED.procedures.fetch(:r1)
    station = Nurv::Expert::Matrix.new(SHIPPED).station(r1, fault && SHIPPED.faults.fetch(fault), fault && :moderate)
    variant = Nurv::Stations::Variant.new(station, 1)
    span = Nurv::Bench::Replay.new(variant, Nurv::Bench::Log.new).first
    tap = Nurv::Bench::Action.new(kind: "turn", valve: "downstream_tap", to: 1.0, at_ms: 1000, id: "tap")
    span = span.after(tap)
    [span, described_class.new(span, 4.0, 6.0, inside: inside).to_h]
  end

  it "tells how far the checks stand open and what runs, as the network has it" do
    span, told = frames(nil)
    parts = told[:cut][:parts]
    expect(parts[:check_valve_1].last.last).to be_between(0.05, 1.0)
    expect(parts[:relief_valve].map(&:last)).to all(eq(0.0))
    flow = span.trajectory.flows_at(6.0, %i[check_valve_1])[:check_valve_1]
    expect(parts[:flow_check_valve_1].last.last).to be_within(0.1).of(flow)
    expect(told[:cut][:air]).to eq([])
  end

  it "tells which check is dirty only to who sees the inside" do
    expect(frames(:check_valve_2_fouled).last[:cut][:dirty]).to eq([:check_valve_2])
    expect(frames(nil).last[:cut][:dirty]).to eq([])
    expect(frames(:check_valve_2_fouled, inside: false).last.keys).not_to include(:cut, :inside)
  end
end
