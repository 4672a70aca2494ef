# frozen_string_literal: true

require "support/web"

# Each act keeps the water that it met until its attempt is graded: a cache beside the log, and no more than that.
RSpec.describe "What acts met with", :web do
  let(:attempt) do
    made = make_attempt(make_instructor, make_trainee)
    demo.play(made)
    stores.attempts.find(made.id)
  end
  let(:events) { DB[:events].where(attempt_id: attempt.id) }

  def by_the_log = Nurv::Grading::Grader.grade(
    attempt.variant, stores.attempts.log(attempt), policy: attempt.grading_policy
  ).dump

  it "is kept with the act, gives the grade that the log gives, and is gone once that is there" do
    water = stores.attempts.log(attempt).each_with_index.reject { |act, _| act.paper? }.map(&:last)
    expect(stores.attempts.met(attempt).keys).to include(*water)
    before = by_the_log
    expect(stores.grades.computed(attempt).dump).to eq(before)
    expect(events.exclude(met: nil).count).to eq(0)
    expect(stores.attempts.met(attempt)).to be_empty
    expect(stores.grades.renew(attempt).dump).to eq(before)
  end

  it "is done without where it is damaged, or was met under other laws of the water" do
    before = by_the_log
    events.exclude(met: nil).limit(1).then { |row| events.where(seq: row.get(:seq)).update(met: "[3, {") }
    graded = -> { expect(stores.grades.computed(attempt).dump).to eq(before) }
    expect(&graded).to output(/is worked out from its log/).to_stderr
    events.update(met: JSON.generate([Nurv::Hydraulics::VERSION - 1, 0.0, {}, nil, nil]))
    expect(stores.attempts.met(attempt)).to be_empty
  end
end
