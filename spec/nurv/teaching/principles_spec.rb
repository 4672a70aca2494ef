# frozen_string_literal: true

# The eight taught cases, explained by what the network does.
RSpec.describe Nurv::Teaching::Principles do
  subject(:principles) { described_class.new(SHIPPED) }

  it "are eight, back pressure before back-siphonage, and every one is protected" do
    cases = described_class.cases
    expect(cases.map(&:id).uniq.size).to eq(8)
    expect(cases.map { |one| one.condition.supply_psi.negative? }).to eq([false] * 4 + [true] * 4)
    expect(cases.map { |one| principles.outcome(one) }).to all(be_protected)
  end

  it "score a prediction by each of its parts" do
    one = described_class.cases.first
    right = principles.outcome(one).words
    expect(principles.score(one, right)).to eq(100.0)
    expect(principles.score(one, right.merge(relief: "wet"))).to be_within(0.1).of(66.7)
    expect(principles.score(one, {})).to eq(0.0)
  end

  it "are explained by what the water does there, and not by a text of the case" do
    said = described_class.cases.to_h { |one| [one.id, principles.why(one).map(&:id)] }
    expect(said[:back_pressure_tight_tight]).to include(:principle_both_shut, :principle_relief_shut)
    expect(said[:back_pressure_tight_fouled]).to include(:principle_back_past_2, :principle_relief_runs)
    expect(said[:back_pressure_fouled_tight]).to include(:principle_relief_runs, :principle_close)
    expect(said[:back_siphonage_tight_tight]).to include(:principle_drained, :principle_air_gap)
    expect(said[:back_siphonage_tight_fouled]).to include(:principle_back_past_2, :principle_air_and_water)
    expect(said[:back_siphonage_fouled_tight]).to include(:principle_air_past_1, :principle_air_gap)
    expect(said.values).to all(include(:principle_protected))
    told = described_class.cases.flat_map { |one| principles.why(one).map { |remark| SHIPPED.words.tell(remark) } }
    expect(told.join).not_to match(/[%_]/)
  end

  # A sentence is said where the flows of the case say it, and nowhere else.
  it "say of either check what passes it, and that both hold only where nothing does" do
    described_class.cases.each do |one|
      seen = principles.outcome(one)
      said = principles.why(one).map(&:id)
      back_past_2 = seen.check_valve_2_ml_s < -0.02
      through_1 = seen.check_valve_1_ml_s > 0.02
      air_past_1 = one.condition.check_valve_1 == "fouled" && seen.air_in_zone && seen.inlet_psi < seen.zone_psi - 1.0
      holds = !(back_past_2 || through_1 || air_past_1)
      happened = {
        principle_back_past_2: back_past_2,
        principle_through_1: through_1,
        principle_air_past_1: air_past_1,
        principle_drained: holds && seen.air_in_zone,
        principle_both_shut: holds && !seen.air_in_zone,
        principle_relief_shut: seen.relief == :dry && !seen.air_in_zone
      }
      said_of_these = happened.keys & said
      expect([one.id, said_of_these]).to eq([one.id, happened.select { |_, is| is }.keys])
      air_or_water = air_past_1 ? :air : :forward
      passes = air_past_1 || through_1
      expect(seen.check_valve_1).to eq(passes ? air_or_water : :shut)
    end
  end
end
