# frozen_string_literal: true

# A lost line is taken up again from where it can still be done better.
RSpec.describe Nurv::Teaching::Restart do
  include Followed

  matrix = Nurv::Expert::Matrix.new(SHIPPED)

  # Logs of testers who make one mistake each, as the grader's own harness plants them.
  def planted(variant, procedure)
    hand = Nurv::Fairness::Hand.new(variant, procedure)
    Nurv::Fairness::Mistakes.new(hand, procedure).plants.reject { |plant| plant.mistakes.size > 1 }.map do |plant|
      acts = plant.log.call.map { |act| act.is_a?(Hash) ? Nurv::Bench::Action.new(act) : act }
      [plant.title, Nurv::Bench::Log.new(acts)]
    end
  end

  %i[r1 d1].each do |id|
    it "gives the line back in full to who does it right from there on, by #{id.upcase}" do
      procedure = SHIPPED.procedures.fetch(id)
      variant = Nurv::Stations::Variant.new(matrix.station(procedure, nil, nil), 1)
      tried = Sample.of(planted(variant, procedure), 13)
      left =
        tried.filter_map do |title, log|
          grade = marked(variant, log, procedure)
          line = grade.lines.find { |one| one.section == :procedure && one.lost? } or next
          replay = Nurv::Bench::Replay.new(variant, log)
          kept = log.first(described_class.new(replay, grade).acts(line))
          again = marked(variant, followed(variant, procedure, acts: kept), procedure)
          same = again.lines.find { |one| one.key == line.key }
          "#{title}: #{line.key} #{again.mistakes}" if same&.lost?
        end
      expect(tried.size).to be >= 2
      expect(left).to eq([])
    end
  end

  it "hands back the report where paper was wrong, with all that was done at the bench" do
    procedure = SHIPPED.procedures.fetch(:r1)
    variant = Nurv::Stations::Variant.new(matrix.station(procedure, nil, nil), 1)
    acts = Nurv::Expert::Truth.of(variant, procedure).run.log.map do |act|
      (act[:field] == "serial") ? Nurv::Bench::Action.new(act.to_h.merge(value: "ZZ-1")) : act
    end
    log = Nurv::Bench::Log.new(acts)
    grade = marked(variant, log, procedure)
    line = grade.lines.find { |one| one.id == :identification }
    expect(described_class.new(Nurv::Bench::Replay.new(variant, log), grade).acts(line)).to eq(log.size - 1)
  end
end
