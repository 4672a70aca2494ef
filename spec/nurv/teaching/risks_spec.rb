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

  %i[ferry_quay dc_sov1 pvb_low].each do |id|
    it "says nothing at any act of a correct test at #{id}" do
      variant, procedure, truth = bench(id)
      acts = truth.run.log.to_a
      cried = (1..acts.size).step(7).flat_map do |count|
        lost(variant, procedure, truth, acts.first(count)).map { |one| [count, one.step, one.mistake] }
      end
      expect(cried).to eq([])
    end
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
    tester = Tester.new(variant).two_hoses.turn(:low_bleed, 2.0).wait(2).turn(:low_bleed, 0.0, "fast").wait(1)
    tester.turn(:high_control, 1.0).wait(1)
    coach = Nurv::Teaching::Coach.new(procedure, truth: -> { truth })
    replay = Nurv::Bench::Replay.new(variant, tester.log)
    said = Array.new(2) { coach.advice(replay, tester.time_s).lost.map { |one| SHIPPED.words.tell(one) } }
    expect(said[0].join).to match(/\AJust lost: .*snapped shut/)
    expect(said[1]).to eq([])
  end
end
