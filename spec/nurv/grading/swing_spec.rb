# frozen_string_literal: true

# Under a main that swings no needle ever stands: what is asked of a tester is that its middle does.
RSpec.describe "Grading under a swinging main" do
  def small_swing = variant(line: {pressure_psi: 60, swing_psi: 0.2})

  it "asks no more of a needle than that its middle stands" do
    %i[r1 d2].each do |id|
      procedure = SHIPPED.procedures.fetch(id)
      Nurv::Expert::Generator
        .new(procedure, :medium, 7, SHIPPED)
        .stations(Sample.times(2, 1))
        .each do |made|
          bench = Nurv::Stations::Variant.new(made, 3)
          log = Nurv::Expert::Truth.of(bench, procedure).run.log
          mistakes = Nurv::Grading::Grader.grade(bench, log, procedure: procedure).mistakes
          expect(mistakes & %i[read_before_steady relief_not_awaited]).to eq([]), made.id.to_s
        end
    end
  end

  it "still sees a reading that was taken while the needle fell" do
    bench = small_swing
    actions = expert_actions(bench)
    jot = actions.index { |act| act[:kind] == "jot" }
    bleed = (0...jot).to_a.rindex { |place| actions[place][:valve] == "low_bleed" && actions[place][:to].zero? }
    early = actions[bleed][:at_ms] + 1_200
    bent = actions.map.with_index { |act, place| (place == jot) ? act.merge(at_ms: early) : act }
    held = bent.each_with_index.sort_by { |act, place| [act[:at_ms], place] }.map(&:first)
    expect(grade(bench, held).mistakes).to include(:read_before_steady)
  end
end
