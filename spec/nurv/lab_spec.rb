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

  context "with a DC" do
    %w[tight fouled]
      .product(%w[tight fouled])
      .each do |first, second|
        it "holds back pressure as long as one check does: CV1 #{first}, CV2 #{second}" do
          result = outcome(assembly: :dc, downstream_psi: 85, check_valve_1: first, check_valve_2: second)
          expect(result.protected?).to eq([first, second].include?("tight"))
          expect(result.words[:zone]).to eq((second == "fouled") ? "above" : "level")
          expect([result.relief, result.air_inlet]).to eq([nil, nil])
          sucked = outcome(assembly: :dc, supply_psi: -6, check_valve_1: first, check_valve_2: second)
          expect(sucked.protected?).to eq([first, second].include?("tight"))
        end
      end
  end

  context "with a PVB" do
    it "lets air in when the supply sucks and taps stand open, so that nothing follows; stuck, the check is alone" do
      %w[tight fouled].product(%w[sound stuck]).each do |check, inlet|
        result = outcome(assembly: :pvb, supply_psi: -6, demand: true, check_valve_1: check, air_inlet: inlet)
        expect(result.words[:inlet]).to eq((inlet == "sound") ? "open" : "shut"), "#{check}, #{inlet}"
        expect(result.air_in_zone).to eq(inlet == "sound")
        expect(result.protected?).to eq([check, inlet] != %w[fouled stuck]), "#{check}, #{inlet}"
      end
    end

    it "stands shut while the line's own pressure pushes back, and is no help then" do
      result = outcome(assembly: :pvb, supply_psi: -6, check_valve_1: "fouled", air_inlet: "sound")
      expect([result.words, result.crossed_ml > 100.0]).to eq([{inlet: "shut", protected: "no"}, true])
    end

    it "is no protection against a pump downstream once its check is fouled" do
      pumped = ->(check) { outcome(assembly: :pvb, downstream_psi: 85, check_valve_1: check, air_inlet: "sound") }
      expect([pumped.call("tight").protected?, pumped.call("fouled").protected?]).to eq([true, false])
    end
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
