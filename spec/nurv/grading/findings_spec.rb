# frozen_string_literal: true

RSpec.describe "Grading what is found by looking" do
  def bench(*findings) = variant(findings: findings.map(&:to_s))

  SHIPPED.findings.each_value do |finding|
    ending = finding.stops? ? "by stopping" : "and goes on"
    it "gives the expert full marks at a station with #{finding.id}, #{ending}" do
      place = bench(finding.id)
      truth = Nurv::Expert::Truth.of(place, place.station.procedures.first)
      expect(truth).to be_solvable
      expect(truth.stopped?).to eq(finding.stops?)
      expect(truth.run.log.of(:connect)).to(finding.stops? ? be_empty : be_any)
      expect(grade(place, expert_actions(place)).mistakes).to eq([])
    end
  end

  it "names a finding that was missed, and one that is none" do
    place = bench(:tap_upstream)
    actions = expert_actions(place)
    expect(grade(place, actions.reject { |act| act[:kind] == "find" }).mistakes).to eq([:finding_missed])
    index = actions.index { |act| act[:kind] == "find" }
    invented = actions.dup.insert(index, {kind: "find", finding: "leaks", at_ms: actions[index][:at_ms], id: "x"})
    expect(grade(place, invented).mistakes).to eq([:finding_false])
  end

  it "names going on where the test must stop, and fails whoever tests a flooded pit" do
    sound = expert_actions(variant)
    expect(grade(bench(:flooded_pit), sound).mistakes).to include(:went_on, :finding_missed)
    expect(grade(bench(:flooded_pit), sound)).not_to be_pass
  end
end
