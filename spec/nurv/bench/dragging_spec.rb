# frozen_string_literal: true

# A control that is turned by a hand that is followed: each ramp is an act, and all of them one turn.
RSpec.describe Nurv::Bench::Stroke do
  include Dragged
  include Followed

  # One of each assembly, with faults among them; one of each procedure with NURV_ALL=1.
  apart = Sample::ALL ? ->(one) { one.procedures.map(&:id) } : ->(one) { one.assembly.id }
  SHIPPED.demo_stations.select { |one| one.faults.any? }.uniq(&apart).each do |station|
    it "is worth what a button is worth: a correct test of #{station.id} by hand has full marks" do
      variant = Nurv::Stations::Variant.new(station, 1)
      station.procedures.each do |procedure|
        run = Nurv::Expert::Truth.of(variant, procedure).run
        log = dragged(variant, run.log)
        turns = run.log.count { |act| act.kind == :turn }
        expect(log.count).to be >= run.log.count + turns * 2
        expect(described_class.folded(log).map { |act| act.to_h.slice(:kind, :valve, :to) }).to eq(
          run.log.map { |act| act.to_h.slice(:kind, :valve, :to) }
        )
        grade = marked(variant, log, procedure)
        expect([procedure.id, grade.score, grade.mistakes]).to eq([procedure.id, 100.0, []])
      end
    end
  end

  def bench(station = :bottle_rinser)
    variant = Nurv::Stations::Variant.new(SHIPPED.demo_stations.find { |one| one.id == station }, 1)
    Tester.new(variant)
  end

  # Turns a control by hand: positions reached, one after the other.
  def drag(tester, valve, *places, every_ms: 150)
    places.each do |place|
      tester.act(:turn, valve: valve.to_s, to: place, over: every_ms)
      tester.wait(every_ms / 1000.0)
    end
    tester
  end

  # Turns a second at which the low bleed was closed, as a grade has it.
  def fastest(tester)
    replay = Nurv::Bench::Replay.new(tester.variant, tester.log)
    chronicle = Nurv::Grading::Chronicle.new(replay, SHIPPED.procedures[:r1])
    chronicle.fastest(:low_bleed, -1, 0...chronicle.size).last
  end

  it "is the same water, to the bit, as a button that takes as long" do
    needles = [{speed: "normal"}, {over: 600}].map do |how|
      tester = bench.connect(high: :test_cock_2).turn(:high_bleed, 1.0).wait(1)
      tester.act(:turn, valve: "test_cock_2", to: 1.0, **how).wait(4)
      tester.needle
    end
    expect(needles.uniq.size).to eq(1)
  end

  it "goes on from where the hand is, though a ramp was lost on the way" do
    whole = drag(bench, :low_control, 0.1, 0.2, 0.3, 0.4).wait(1)
    lossy = bench
    drag(lossy, :low_control, 0.1).wait(0.3)
    drag(lossy, :low_control, 0.4).wait(1)
    expect(lossy.span.state.position(:low_control, 2.0)).to eq(whole.span.state.position(:low_control, 2.0))
  end

  it "knows a slammed bleed from a gentle one, whatever its last ramp is like" do
    pace = ->(places, every_ms) do
      tester = drag(bench.turn(:low_bleed, 1.0).wait(1), :low_bleed, *places, every_ms: every_ms)
      fastest(tester)
    end
    slow = Nurv::Grading::Requirements::SLOW_TURNS_PER_S
    expect(pace.call([0.9, 0.75, 0.6, 0.45, 0.3, 0.15, 0.0], 150)).to be_within(0.05).of(1.0)
    expect(pace.call([0.0], 150)).to be > slow
    expect(pace.call([0.8, 0.1, 0.0], 100)).to be > slow
    # A hand comes to rest in a jerk: 0.08 turns in 20 ms are no slam.
    expect(pace.call([0.8, 0.6, 0.4, 0.2, 0.08], 200)).to be < slow
    tail = bench.turn(:low_bleed, 1.0).wait(1)
    drag(tail, :low_bleed, 0.6, 0.3, 0.08, every_ms: 300)
    drag(tail, :low_bleed, 0.0, every_ms: 20)
    expect(fastest(tail)).to be < slow
  end

  it "stands as it stood while a hand moves what is open: whatever is asked of that alone has the same answer" do
    variant = bench.variant
    procedure = variant.station.procedures.first
    replay = Nurv::Bench::Replay.new(variant, dragged(variant, Nurv::Expert::Truth.of(variant, procedure).run.log))
    chronicle = Nurv::Grading::Chronicle.new(replay, procedure)
    entries = (0...chronicle.size).to_a
    moved = entries.reject { |index| chronicle.stands_as(index) == index }
    expect(moved.size).to be > entries.size / 4
    asked = procedure.steps.flat_map do |step|
      conditions = Nurv::Grading::Conditions.new(chronicle, step)
      clauses = [step.matched, step.before, step.at_end, step.situation].compact.flatten
      standing = clauses.select { |clause| conditions.of_the_standing_alone?(clause) }
      standing.each do |clause|
        answers = entries.map { |index| conditions.holds?(clause, index) }
        expect(moved.map { |index| answers[index] }).to eq(moved.map { |index| answers[chronicle.stands_as(index)] })
      end
    end
    expect(asked.size).to be > 20
  end

  it "refuses a ramp that no hand does, and one to where the control stands" do
    [{over: 5}, {over: 60_000}, {over: "fast"}, {over: 99.5}].each do |how|
      expect { bench.act(:turn, valve: "low_bleed", to: 1.0, **how) }.to raise_error(Nurv::RefusedAction)
    end
    expect { bench.act(:turn, valve: "low_bleed", to: 0.0, over: 150) }.to raise_error(Nurv::RefusedAction)
  end

  it "lets a coach read what was done, not how: by hand it has nothing left to say either" do
    station = SHIPPED.demo_stations.find { |one| one.id == :bottle_rinser }
    variant = Nurv::Stations::Variant.new(station, 1)
    procedure = station.procedures.first
    whole = dragged(variant, Nurv::Expert::Truth.of(variant, procedure).run.log)
    [0.3, 0.6, 0.9].each do |share|
      begun = whole.first((whole.count * share).round)
      log = followed(variant, procedure, acts: begun)
      expect(marked(variant, log, procedure).score).to eq(100.0)
    end
  end

  it "keeps of a stroke at a bench at work its first ramp and its newest" do
    tester = drag(bench, :low_control, 0.05, 0.1, 0.15, 0.2)
    entries = Nurv::Bench::Replay.new(tester.variant, tester.log).entries
    kept = entries.each_with_object([]) { |entry, list| list.replace(described_class.followed(list, entry)) }
    expect(kept.map { |entry| entry.action[:to] }).to eq([0.05, 0.2])
  end
end
