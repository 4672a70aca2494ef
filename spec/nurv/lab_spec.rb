# frozen_string_literal: true

RSpec.describe Nurv::Teaching::Lab do
  def outcome(**condition) =
    described_class.new(described_class::Condition.new(supply_psi: 60, **condition), SHIPPED).outcome

  %w[tight fouled]
    .product(%w[tight fouled])
    .each do |first, second|
      it "protects under back pressure with CV1 #{first} and CV2 #{second}" do
        result = outcome(downstream_psi: 85, check_valve_1: first, check_valve_2: second)
        expect(result).to be_protected
        # Both tight: the relief stays shut. Any leak into the zone: it discharges as long as that lasts.
        expect(result.relief == :dry).to eq([first, second] == %w[tight tight])
        expect(result.zone_psi).to be < result.inlet_psi
        expect(result.check_valve_2).to eq((second == "fouled") ? :backward : :shut)
      end

      it "protects under back-siphonage with CV1 #{first} and CV2 #{second}: the zone empties and air comes in" do
        result = outcome(supply_psi: -6, check_valve_1: first, check_valve_2: second)
        expect(result).to be_protected
        expect(result.inlet_psi).to be < 0.0
        expect(result.relief_ran).to be(true)
        expect(result.air_in_zone).to be(true)
        expect(result.zone_psi).to be_within(0.1).of(-0.2)
        # Downstream water runs out of the relief port as long as it is under pressure.
        expect(result.relief_ml_s > 0.5).to eq(second == "fouled")
      end
    end

  it "opens both checks in normal flow, the zone below the inlet by what CV1 takes, relief shut" do
    result = outcome(demand: true)
    expect([result.check_valve_1, result.check_valve_2, result.relief]).to eq(%i[forward forward dry])
    expect(result.inlet_psi - result.zone_psi).to be > 5.0
  end

  it "lets downstream water reach the supply once the relief is stuck and both checks are fouled" do
    expect(
      outcome(downstream_psi: 85, check_valve_1: "fouled", check_valve_2: "fouled", relief_valve: "stuck")
    ).not_to be_protected
    expect(
      outcome(
        supply_psi: -6,
        downstream_psi: 40,
        check_valve_1: "fouled",
        check_valve_2: "fouled",
        relief_valve: "stuck"
      )
    ).not_to be_protected
  end
end
