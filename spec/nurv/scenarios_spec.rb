# frozen_string_literal: true

RSpec.describe Nurv::Expert::Generator do
  it "makes the same stations from the same seed, all good and all to be solved by their procedure" do
    procedure = SHIPPED.procedures.fetch(:d2)
    make = ->(seed) { described_class.new(procedure, :medium, seed, SHIPPED).stations(2) }
    made = make.call(7)
    expect(made.map(&:to_yaml)).to eq(make.call(7).map(&:to_yaml))
    expect(made.map(&:to_yaml)).not_to eq(make.call(8).map(&:to_yaml))
    made.each do |station|
      expect(Nurv::Stations::Station.parse(station.to_yaml, SHIPPED).data).to eq(station.data)
      expect(Nurv::Expert::Truth.of(Nurv::Stations::Variant.new(station, 1), procedure)).to be_solvable
    end
  end
end

RSpec.describe "A set of stations made from a seed" do
  made = Nurv::Expert::Generator.new(SHIPPED.procedures.fetch(:r1), :easy, 31, SHIPPED).stations(6)

  it "has plates that say the size each assembly is" do
    expect(made.map { |station| station.data[:plate][:size] }).to eq(
      made.map { |station| Nurv::Expert::Generator::SIZES.fetch(station.data[:size_in]) }
    )
    expect(made.map { |station| station.data[:size_in] }.uniq.size).to be > 1
  end

  it "does not put the same faults next to each other" do
    made.each_cons(2) { |one, other| expect(one.data[:faults]).not_to eq(other.data[:faults]) }
  end
end

RSpec.describe Nurv::Expert::Truth do
  it "stands, at the end of a step, just before the correct tester begins the next" do
    bench = variant
    truth = described_class.of(bench, bench.station.procedures.first)
    ends = truth.steps.map { |step| truth.end_of(step) }
    expect(ends).to eq(ends.sort)
    expect(ends).to all(be_between(0.0, truth.run.end_s))
    truth
      .steps
      .each_cons(2) do |step, following|
        expect(truth.end_of(step)).to be >= truth.run.moments.fetch(step) - 0.2,
          "#{step} ends after it begins, before #{following}"
      end
    expect(truth.end_of(nil)).to be_within(0.3).of(truth.run.end_s)
    truth.at(truth.end_of(:apparent)) do |span|
      expect(span.needle_at(truth.end_of(:apparent))).to be_within(0.1).of(8.0)
    end
  end

  it "fails a weak spring, says in words how it is mended, and passes the test after" do
    station = SHIPPED.demo_stations.find { |item| item.id == :rp_mend }
    truth = described_class.of(Nurv::Stations::Variant.new(station, 1), station.procedures.first)
    expect(truth.verdict.overall).to eq(:fail)
    expect(truth.retest_verdict.overall).to eq(:pass)
    expect(SHIPPED.words.repairs(truth.mending, SHIPPED.repairs)).to eq("CV1: fit a new spring")
    healthy = variant
    expect(described_class.of(healthy, healthy.station.procedures.first).retest_verdict).to be_nil
  end

  it "warns of a relief valve that opens too near check valve 1's reading, and of no other" do
    procedure = SHIPPED.procedures.fetch(:r1)
    near = {check_valve_1_confirmed: "6.0", relief_valve_opening: "3.8"}
    expect([procedure.buffer_psid(near), procedure.buffer_warning(near)]).to eq([2.2, "below 3.0"])
    expect(procedure.buffer_warning(near.merge(check_valve_1_confirmed: "7.0"))).to be_nil
    expect(procedure.buffer_warning({check_valve_1_confirmed: "6.0"})).to be_nil
  end
end

RSpec.describe Nurv::Grading::Grade do
  let(:bench) { variant }
  let(:result) { grade(bench, expert_actions(bench).reject { |act| act[:topic] == "water_on" }) }

  def policy(**changes) = Nurv::Grading::Policy.new({**result.policy.data, **changes})

  it "is weighed anew under another policy without grading again, down to pass or fail" do
    expect(result.mistakes).to eq([:water_on_unannounced])
    lenient = result.under(policy(pass_mark: 50, critical_fails: false, fail_outright: []))
    strict = result.under(policy(fail_outright: ["water_on_unannounced"]))
    expect([lenient.pass?, strict.pass?]).to eq([true, false])
    expect(strict.failed_outright).to include(:water_on_unannounced)
    expect([lenient, strict].map { |other| other.lines.map(&:to_h) }.uniq).to eq([result.lines.map(&:to_h)])
  end

  it "will not be weighed anew where the lines themselves would differ" do
    expect(result.under(policy(tolerance_psid: 0.1))).to be_nil
    expect(result.under(policy)).to be_a(described_class)
  end
end

RSpec.describe Nurv::Grading::Progress do
  def progress(actions, bench)
    entries =
      Nurv::Bench::Replay.new(
        bench,
        Nurv::Bench::Log.new(actions.map { |data| Nurv::Bench::Action.new(data) })
      ).entries
    procedure = bench.station.procedures.first
    entries
      .each_index
      .reduce(described_class.new) do |done, index|
        done.after(Nurv::Bench::Replay.recent(bench, entries[[index - 59, 0].max..index]), procedure)
      end
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
    expect(progress(actions.reject { |act| act[:topic] }, bench).alarms.map(&:last)).to eq(
      %i[not_notified water_on_unannounced]
    )
    pit = variant(findings: ["flooded_pit"])
    expect(progress(actions, pit).alarms.map(&:last)).to include(:went_on)
  end
end

RSpec.describe Nurv::Grading::ItemAnalysis do
  it "counts what was missed, per line and per fault that was there" do
    line = ->(id, earned) do
      {
        section: "procedure",
        id: id,
        points: 5,
        earned: earned,
        mistake: (earned < 5) ? "flush_order" : nil
      }
    end
    diagnosis = ->(earned) do
      {section: "judgement", id: "diagnosis", points: 20, earned: earned, mistake: nil}
    end
    graded = [
      [[line.call("flush", 0), diagnosis.call(20)], ["CV1 fouled"]],
      [[line.call("flush", 5), diagnosis.call(0)], ["CV1 fouled"]],
      [[line.call("bleed", 5), diagnosis.call(20)], []]
    ].map { |lines, faults| described_class::Graded.new(lines: lines, procedure: "r1", faults: faults) }
    analysis = described_class.new(graded) { |item, procedure| "#{procedure} #{item[:id]}" }
    expect(analysis.steps.map(&:title)).to eq(["r1 flush", "r1 diagnosis", "r1 bleed"])
    expect(analysis.steps.map { |row| [row.id, row.missed, row.of] }).to eq(
      [["procedure.flush", 1, 2], ["judgement.diagnosis", 1, 3], ["procedure.bleed", 0, 1]]
    )
    expect(analysis.faults.map { |row| [row.id, row.missed, row.of] }).to eq([["CV1 fouled", 1, 2]])
    expect(analysis.mistakes).to eq([[:flush_order, 1]])
  end
end
