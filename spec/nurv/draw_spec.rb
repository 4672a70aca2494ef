# frozen_string_literal: true

RSpec.describe Nurv::Stations::Draw do
  def drawn(seed, **changes) = described_class.new(seed).station(station(**changes)).data

  it "draws every range within its bounds, to a tenth, the same for the same seed" do
    springs =
      (1..60).map do |seed|
        drawn(seed, springs_psid: {check_valve_1: {from: 6.4, to: 8.8}})[:springs_psid][:check_valve_1]
      end
    expect(springs).to all(be_between(6.4, 8.8))
    expect(springs).to all(satisfy { |value| value.round(1) == value })
    expect(springs.uniq.size).to be > 10
    expect(
      (1..60).map do |seed|
        drawn(seed, springs_psid: {check_valve_1: {from: 6.4, to: 8.8}})[:springs_psid][:check_valve_1]
      end
    ).to eq(springs)
  end

  it "leaves what one range draws alone when another is changed" do
    one =
      drawn(5, line: {pressure_psi: {from: 48, to: 72}}, springs_psid: {check_valve_1: {from: 6.0, to: 9.0}})
    other =
      drawn(
        5,
        line: {
          pressure_psi: 60
        },
        springs_psid: {
          check_valve_1: {
            from: 6.0,
            to: 9.0
          },
          check_valve_2: {
            from: 2.0,
            to: 3.0
          }
        }
      )
    expect(other[:springs_psid][:check_valve_1]).to eq(one[:springs_psid][:check_valve_1])
  end

  it "draws one of several faults, or none where that is a choice, each now and then" do
    choice = {
      one_of: [
        {id: "check_valve_1_fouled", severity: "gross"},
        {id: "relief_valve_stuck", severity: "gross"},
        {id: "none"}
      ]
    }
    open = Nurv::Stations::Station.new(Nurv::Facts.of({**BenchWork::USUAL, faults: [choice]}), SHIPPED)
    drawn = (1..60).map { |seed| described_class.new(seed).station(open).data[:faults].map { |fault| fault[:id] } }
    expect(drawn.uniq).to contain_exactly([], ["check_valve_1_fouled"], ["relief_valve_stuck"])
  end

  it "gives a station with nothing left open back as it is" do
    fixed = station(faults: {check_valve_1_fouled: :gross})
    expect(described_class.new(3).station(fixed)).to equal(fixed)
  end
end

RSpec.describe Nurv::Units do
  it "says readings, pressures and times as the trade does, and a dash where there is none" do
    expect(
      [
        described_class.differential(2.04),
        described_class.differential(2.0, unit: :kpa),
        described_class.differential(nil)
      ]
    ).to eq(["2.0 psid", "13.8 kPa", "–"])
    expect(
      [described_class.pressure(59.6), described_class.pressure(60, unit: :kpa), described_class.pressure(nil)]
    ).to eq(["60 psi", "414 kPa", "–"])
    expect([0, 59.9, 187.2].map { |seconds| described_class.clock(seconds) }).to eq(%w[0:00 0:59 3:07])
    expect(described_class.head_psi(10.0)).to be_within(1.0e-9).of(0.361)
  end
end
