# frozen_string_literal: true

# What came of what a class was asked, against the bench itself.
RSpec.describe Nurv::Teaching::Asked do
  def replay(station, *acts)
    log = acts.each_with_index.map { |data, index| Nurv::Bench::Action.new(data.merge(id: "a#{index}")) }
    variant = Nurv::Stations::Variant.new(SHIPPED.demo_stations.find { |one| one.id == station }, 1)
    Nurv::Bench::Replay.new(variant, Nurv::Bench::Log.new(log))
  end

  hooked_up = [
    {kind: "connect", hose: "high", to: "test_cock_2", at_ms: 1_000},
    {kind: "connect", hose: "low", to: "test_cock_3", at_ms: 2_000},
    {kind: "turn", valve: "high_bleed", to: 1.0, speed: "normal", at_ms: 3_000},
    {kind: "turn", valve: "test_cock_2", to: 1.0, speed: "normal", at_ms: 4_000},
    {kind: "turn", valve: "test_cock_3", to: 1.0, speed: "normal", at_ms: 8_000},
    {kind: "turn", valve: "high_bleed", to: 0.0, speed: "slow", at_ms: 16_000}
  ]

  it "says of the needle what it did between the two moments, whatever came before and after" do
    bench = replay(:bottle_rinser, *hooked_up)
    pairs = Array.new(30) { |index| [index * 0.8, index * 0.8 + 1.7] }
    said = pairs.map do |from, to|
      moved = bench.needle_at(to) - bench.needle_at(from)
      word = described_class.new(bench, from, to).truths(:needle)
      expect(word).to eq([if moved.abs < 0.1
                            :stands
                          else
                            (moved.positive? ? :rises : :falls)
                          end])
      word.first
    end
    expect(said.uniq).to include(:rises, :stands)
  end

  it "says that the relief valve opened only of a time in which water ran out of it" do
    dump = replay(
      :bottle_rinser,
      {kind: "connect", hose: "low", to: "test_cock_2", at_ms: 1_000},
      {kind: "turn", valve: "shutoff_valve_2", to: 0.0, speed: "normal", at_ms: 2_000},
      {kind: "turn", valve: "shutoff_valve_1", to: 0.0, speed: "normal", at_ms: 5_000},
      {kind: "turn", valve: "low_bleed", to: 2.0, speed: "normal", at_ms: 10_000},
      {kind: "turn", valve: "test_cock_2", to: 1.0, speed: "normal", at_ms: 12_000}
    )
    expect(described_class.new(dump, 6.0, 11.0).truths(:relief)).to eq([:stays_shut])
    expect(described_class.new(dump, 11.0, 40.0).truths(:relief)).to eq([:opens])
  end

  it "names the parts at fault, those that an instructor put in among them, and none where none is" do
    expect(described_class.new(replay(:bottle_rinser), 0.0, 1.0).truths(:part)).to eq([:sound])
    put_in = replay(:bottle_rinser, {kind: "inject", fault: "check_valve_2_fouled", severity: "gross", at_ms: 500})
    expect(described_class.new(put_in, 0.0, 1.0).truths(:part)).to eq([:check_valve_2])
  end

  it "asks about a relief valve only where there is one, and knows every choice by a name" do
    SHIPPED.assemblies.each_value do |assembly|
      kinds = described_class.kinds(assembly)
      expect(kinds.include?(:relief)).to eq(assembly.components.include?(:relief_valve))
      choices = kinds.flat_map { |kind| described_class.choices(kind, assembly) }
      named = choices.select { |one| %i[answers parts].any? { |kind| SHIPPED.words.known?(kind, one) } }
      expect(named).to eq(choices)
    end
  end
end
