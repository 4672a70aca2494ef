# frozen_string_literal: true

RSpec.describe Nurv::Scenarios::Generator do
  it "makes the same stations from the same seed, all good and all to be solved by their procedure" do
    procedure = Nurv::Catalog.default.procedures.fetch(:d2)
    made = described_class.new(procedure, :medium, 7).stations(3)
    expect(made.map(&:to_yaml)).to eq(described_class.new(procedure, :medium, 7).stations(3).map(&:to_yaml))
    expect(made.map(&:to_yaml)).not_to eq(described_class.new(procedure, :medium, 8).stations(3).map(&:to_yaml))
    made.each do |station|
      expect(Nurv::Scenarios::Station.parse(station.to_yaml).data).to eq(station.data)
      expect(Nurv::Scenarios::Truth.of(Nurv::Scenarios::Variant.new(station, 1), procedure)).to be_solvable
    end
  end
end

RSpec.describe Nurv::Grading::Progress do
  def progress(actions, bench)
    entries = Nurv::Bench::Replay.new(bench, Nurv::Bench::Log.new(actions.map { |data| Nurv::Bench::Action.new(data) })).entries
    procedure = bench.station.procedures.first
    entries.each_index.reduce(described_class.new) { |done, index| done.after(Nurv::Bench::Replay.recent(bench, entries[[index - 59, 0].max..index]), procedure) }
  end

  it "has reached every step that the grade counts, when a correct tester is done" do
    bench = variant
    done = progress(expert_actions(bench), bench)
    expect(bench.station.procedures.first.steps.reject { |step| step.only.any? }.map(&:id) - done.reached).to eq([])
    expect(done.alarms).to eq([])
    expect(done.next_step(bench.station.procedures.first)).to be_nil
  end

  it "sounds for water shut off unasked, put on unannounced, and a test that must not be" do
    bench = variant
    actions = expert_actions(bench)
    expect(progress(actions.reject { |act| act[:topic] }, bench).alarms.map(&:last)).to eq(%i[not_notified water_on_unannounced])
    pit = variant(findings: ["flooded_pit"])
    expect(progress(actions, pit).alarms.map(&:last)).to include(:went_on)
  end
end

RSpec.describe Nurv::Grading::ItemAnalysis do
  it "counts what was missed, per line and per fault that was there" do
    line = ->(id, earned) { {section: "procedure", id: id, title: id, points: 5, earned: earned, mistake: (earned < 5) ? "flush_order" : nil} }
    diagnosis = ->(earned) { {section: "judgement", id: "diagnosis", title: "Diagnosis", points: 20, earned: earned, mistake: nil} }
    analysis = described_class.new([[[line.call("flush", 0), diagnosis.call(20)], ["CV1 fouled"]], [[line.call("flush", 5), diagnosis.call(0)], ["CV1 fouled"]], [[line.call("bleed", 5), diagnosis.call(20)], []]])
    expect(analysis.steps.map { |row| [row.id, row.missed, row.of] }).to eq([["procedure.flush", 1, 2], ["judgement.diagnosis", 1, 3], ["procedure.bleed", 0, 1]])
    expect(analysis.faults.map { |row| [row.id, row.missed, row.of] }).to eq([["CV1 fouled", 1, 2]])
    expect(analysis.mistakes).to eq([[:flush_order, 1]])
  end
end
