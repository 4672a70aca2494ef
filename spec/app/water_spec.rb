# frozen_string_literal: true

require "support/web"

# The laws of the water get better; what was graded under older ones keeps its grade and says so.
RSpec.describe "A grade of older water", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let(:attempt) do
    made = make_attempt(instructor, make_trainee)
    demo.play(made)
    stores.attempts.find(made.id)
  end

  before do
    stores.grades.computed(attempt)
    # As an older version left it: by its water, with a score that today's would not give.
    kept = JSON.parse(DB[:grades].get(:body))
    kept["lines"].find { |line| line["section"] == "readings" }["earned"] = 0
    DB[:grades].update(water: 1, body: JSON.generate(kept))
    sign_in("ines")
  end

  def score = stores.grades.computed(attempt).score

  it "stands, says so, and is worked out again only when its instructor asks" do
    before = score
    expect(before).to be < 100.0
    get "/attempts/#{attempt.id}/result"
    expect(html).to include("stands as it was worked out").and include("grade-again")
    expect(score).to eq(before)
    send_form "/attempts/#{attempt.id}/grade-again"
    2.times { follow_redirect! }
    expect(score).to eq(100.0)
    expect(html).to include("#{before} before, 100.0 now")
    expect(html).not_to include("stands as it was worked out")
    expect(DB[:audits].select_map(:act)).to include("graded again")
  end

  it "keeps what was overridden" do
    stores.grades.override(attempt, instructor, line: "judgement.diagnosis", earned: 5, reason: "Half right.")
    send_form "/attempts/#{attempt.id}/grade-again"
    follow_redirect!
    line = stores.grades.with_overrides(attempt).lines.find { |one| one.key == "judgement.diagnosis" }
    expect(line.earned).to eq(5)
  end
end
