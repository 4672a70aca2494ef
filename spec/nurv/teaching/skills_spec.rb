# frozen_string_literal: true

# Skills from what was tried, wherever it was.
RSpec.describe Nurv::Teaching::Skills do
  seen = ->(skill, score, day) { described_class::Seen.new(skill: skill, score: score, at: Time.utc(2026, 11, day)) }

  it "stand by their last three tries, and come up in the order of need" do
    skills = described_class.new(
      [
        seen.call(:flush, 0.0, 1),
        *[2, 3, 4].map { |day| seen.call(:flush, 100.0, day) },
        seen.call(:bleed, 40.0, 2),
        seen.call(:level, 100.0, 1)
      ]
    )
    sure = {score: 100.0, times: 4, word: :sure, last_at: Time.utc(2026, 11, 4)}
    expect(skills.standing(:flush)).to have_attributes(sure)
    expect(skills.standing(:bleed).word).to eq(:weak)
    expect(skills.standing(:never)).to be_nil
    expect(skills.in_need(%i[flush bleed level never])).to eq(%i[never bleed level flush])
  end

  it "are seen in a whole test, each by the lines that its drill is about" do
    path = File.join(Nurv::Catalog::ROOT, "drills/drills.yml")
    drills = Nurv::Teaching::Drill.parse(File.read(path), SHIPPED, path).values
    r1 = SHIPPED.procedures.fetch(:r1)
    place = Nurv::Stations::Variant.new(Nurv::Expert::Matrix.new(SHIPPED).station(r1, nil, nil), 1)
    log = Nurv::Expert::Truth.of(place, r1).run.log.reject { |act| act[:valve].to_s == "test_cock_1" }
    grade = Nurv::Grading::Grader.grade(place, Nurv::Bench::Log.new(log), procedure: r1)
    shown = described_class.of_grade(drills, grade, Time.utc(2026, 11, 1)).to_h { |one| [one.skill, one.score] }
    expect(shown.keys).to include(:flush_in_order, :first_drop, :pass_or_fail)
    expect(shown.keys).not_to include(:stop_the_drip)
    expect(shown[:flush_in_order]).to be < 100.0
    expect(shown[:first_drop]).to eq(100.0)
  end
end
