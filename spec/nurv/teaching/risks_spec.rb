# frozen_string_literal: true

# What has been lost by now, said while the test goes on.
RSpec.describe Nurv::Teaching::Risks do
  def bench(id)
    station = SHIPPED.demo_stations.find { |one| one.id == id }
    variant = Nurv::Stations::Variant.new(station, 1)
    procedure = station.procedures.first
    [variant, procedure, Nurv::Expert::Truth.of(variant, procedure)]
  end

  def lost(variant, procedure, truth, acts)
    replay = Nurv::Bench::Replay.new(variant, Nurv::Bench::Log.new(acts))
    described_class.new(replay, truth, procedure).lost
  end

  Sample.of(SHIPPED.demo_stations, 8).each do |station|
    it "says nothing after any act of a correct test at #{station.id}" do
      variant, procedure, truth = bench(station.id)
      done = Nurv::Bench::Replay.new(variant, truth.run.log).entries
      cried = (1..done.size).flat_map do |count|
        replay = Nurv::Bench::Replay.recent(variant, done.first(count))
        described_class.new(replay, truth, procedure).lost.map { |one| [count, one.step, one.mistake] }
      end
      expect(cried).to eq([])
    end
  end

  # With the cocks open and the controls shut it stands for a moment as for a reading, before a hose is bled.
  it "does not take a moment before hoses are bled for a reading" do
    variant, procedure, truth = bench(:fire_riser)
    acts = truth.run.log.to_a
    bleeding = acts.index { |act| act.named(:valve) == :high_control && act[:to].positive? } + 1
    expect(lost(variant, procedure, truth, acts.first(bleeding))).to eq([])
    # Who writes down what is shown there has taken it.
    stands = acts.first(bleeding - 1)
    at_ms = stands.last.at_ms + 500
    jot = Nurv::Bench::Action.new(kind: "jot", item: "check_valve_1", value: "2.0", at_ms: at_ms, id: "early")
    said = lost(variant, procedure, truth, [*stands, jot, *acts[bleeding - 1, 1]])
    expect(said.map(&:mistake)).to include(:hose_not_bled)
  end

  it "says of mistakes what the grade will say of them, most before the test is over, and names no other" do
    variant, procedure, truth = bench(:bottle_rinser)
    hand = Nurv::Fairness::Hand.new(variant, procedure)
    plants = Nurv::Fairness::Mistakes.new(hand, procedure).plants.reject { |plant| plant.title.include?(" and ") }
    said = plants.each_slice(5).map(&:first).map do |plant|
      log = Nurv::Bench::Log.new(plant.log.call.map { |act| Nurv::Bench::Action.new(act) })
      graded = Nurv::Grading::Grader.grade(variant, log, procedure: procedure).mistakes
      before_the_end = log.to_a.take_while { |act| act.kind != :submit }
      [plant.title, graded, lost(variant, procedure, truth, before_the_end).map(&:mistake).uniq]
    end
    told = said.flat_map(&:last)
    false_cries = said.flat_map { |_, graded, cried| cried - graded }
    seen = said.count { |_, graded, cried| (graded & cried).any? }
    expect(false_cries).to eq([])
    # What was left out is not among them: the coach asks for it.
    expect(told.size).to be > 2
    expect(seen).to be > said.count { |title, _, _| !title.include?("left out") } / 2
  end

  it "is said by a coach once, in words" do
    variant, procedure, truth = bench(:bottle_rinser)
    tester = Tester.new(variant).connect(high: :test_cock_2, low: :test_cock_3)
    tester.turn(:test_cock_3, 1.0).wait(1).turn(:low_bleed, 2.5).wait(1).turn(:test_cock_2, 1.0).wait(1)
    tester.turn(:high_bleed, 2.5).wait(12).turn(:shutoff_valve_2, 0.0).wait(3).turn(:high_bleed, 0.0).wait(2)
    tester.turn(:low_bleed, 0.0, "fast").wait(1).turn(:high_control, 1.0).wait(1)
    coach = Nurv::Teaching::Coach.new(procedure, truth: -> { truth })
    replay = Nurv::Bench::Replay.new(variant, tester.log)
    said = Array.new(2) { coach.advice(replay, tester.time_s).lost.map { |one| SHIPPED.words.tell(one) } }
    expect(said[0].join).to match(/\AJust lost: .*snapped shut/)
    expect(said[1]).to eq([])
  end
end
