# frozen_string_literal: true

require "support/web"

# Who sits at which bench is one question, asked with every act and every poll: it must say what the single questions
# say, and nothing to who may not know.
RSpec.describe "Who sits at a bench", :web do
  let(:owner) { make_instructor }
  let(:teo) { make_trainee }
  let(:bench) { begin_attempt(owner, teo, mode: "practice") }
  let(:token) { stores.sessions.begin(teo) }
  let(:wall_ms) { Clock.wall_ms }

  def visit(number = bench.id, by: token) = stores.visits.at(by, number, wall_ms)

  # What an attempt is made of, for comparing.
  def said(attempt) = Store::Visits::COLUMNS.to_h { |name| [name, attempt.instance_variable_get(:@row)[name]] }

  it "is said as by session, person and bench each on its own, whatever the bench holds" do
    course = make_class(owner, teo)
    exam = make_exam(owner, course, :bottle_rinser, :pvb_pair)
    stores.exams.open(exam, [teo])
    benches = [bench, *stores.attempts.of_exam(exam)]
    benches.each { |one| stores.attempts.begin(one, wall_ms) }
    DB[:attempts].where(id: bench.id).update(
      needle_psid: 3.25,
      drill: "bleeds",
      pace_percent: 50,
      paused_wall_ms: wall_ms,
      seen_wall_ms: nil
    )
    benches.each do |one|
      found = visit(one.id)
      expect(found.user).to eq(stores.sessions.user_of(token))
      expect(said(found.attempt)).to eq(said(stores.attempts.find(one.id)))
      expect(found.attempt.station.data).to eq(one.station.data)
      expect(found.attempt.grading_policy.data).to eq(one.grading_policy.data)
    end
  end

  it "is nobody for a token that is false, ended or too old, or at a bench that is another's or is not there" do
    una = stores.sessions.begin(make_trainee("una"))
    expect(visit.user.id).to eq(teo.id)
    expect([visit(by: nil), visit(by: "made up"), visit(by: una), visit(bench.id + 1)]).to all(be_nil)
    life_ms = Store::Sessions::LIFE_MS.fetch("trainee")
    expect(stores.visits.at(token, bench.id, wall_ms + life_ms + 1)).to be_nil
    stores.sessions.end(token)
    expect(visit).to be_nil
  end

  it "knows that they, and not somebody else, are in an exam, here or elsewhere, as long as they are" do
    begin_attempt(make_instructor("olm"), make_trainee("una"), mode: "exam")
    expect(visit).to have_attributes(examined: false)
    expect(visit.usual?(wall_ms)).to be(true)
    sitting = begin_attempt(make_instructor("ida"), teo, mode: "exam")
    expect([visit.examined, visit.usual?(wall_ms), visit(sitting.id).usual?(wall_ms)]).to eq([true, false, true])
    DB[:attempts].where(id: sitting.id).update(status: Store::Status::SUBMITTED)
    expect([visit.examined, visit.usual?(wall_ms), visit(sitting.id).usual?(wall_ms)]).to eq([false, true, false])
  end

  it "is for the page to sort out where the bench is not begun, over, beside a real one, late, idle or damaged" do
    row = DB[:attempts].where(id: bench.id)
    {
      status: %w[assigned submitted published left],
      mode: %w[proctor],
      seen_wall_ms: [wall_ms - BenchClock::IDLE_MS - 1],
      station_body: ["title: nothing more"]
    }.each do |column, values|
      usual = row.get(column)
      values.each do |value|
        row.update(column => value)
        expect { expect(visit.usual?(wall_ms)).to be(false), "#{column} #{value}" }
          .to output((column == :station_body) ? /attempt #{bench.id}: / : "").to_stderr
      end
      row.update(column => usual)
    end
    expect(visit.usual?(wall_ms)).to be(true)
  end
end
