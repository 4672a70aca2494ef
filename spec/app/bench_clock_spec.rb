# frozen_string_literal: true

require "support/web"

RSpec.describe BenchClock do
  def practice = described_class.new(exam: false, rests: true).begin(0)

  def exam(minutes = 10) = described_class.new(exam: true, rests: false, limit_ms: minutes * 60_000).begin(0)

  let(:idle_ms) { described_class::IDLE_MS }

  it "never goes back, whatever is done to it in whatever order" do
    random = Random.new(11)
    200.times do
      clock = (random.rand < 0.5) ? practice : exam
      wall = last = 0
      40.times do
        wall += random.rand(0..90_000)
        # Looking changes nothing; doing changes the clock at the moment it is done, and not before.
        expect(clock.at(wall)).to be >= last
        before = clock.at(wall)
        clock = [
          ->(now) { now.seen(wall) },
          ->(now) { now.pause(wall) },
          ->(now) { now.resume(wall) },
          ->(now) { now.skip(30_000) },
          ->(now) { now.extend(60_000) },
          ->(now) { now.at_pace([25, 100].sample(random: random), wall) },
          :itself.to_proc
        ].sample(random: random).call(clock)
        expect(clock.at(wall)).to be >= before
        last = clock.at(wall)
      end
    end
  end

  it "stands still at practice while nobody is there, and goes on from there for who comes back" do
    left = practice.seen(5_000)
    expect(left.at(3_600_000)).to eq(5_000 + idle_ms)
    back = left.seen(3_600_000)
    expect(back.at(3_600_000)).to eq(5_000 + idle_ms)
    expect(back.at(3_601_000)).to eq(6_000 + idle_ms)
    # An act and a poll after it, in either order, are on the same clock.
    expect(back.seen(3_601_000).at(3_602_000)).to eq(back.at(3_602_000))
  end

  it "does not rest in an exam, and runs out where time was given" do
    clock = exam(10)
    expect([clock.at(599_999), clock.left(599_999), clock.run_out?(599_999)]).to eq([599_999, 1, false])
    expect([clock.left(700_000), clock.run_out?(700_000), clock.ends(700_000)]).to eq([0, true, 600_000])
    more = clock.extend(300_000)
    expect([more.run_out?(700_000), more.left(700_000), more.ends(1_000_000)]).to eq([false, 200_000, 900_000])
    expect([clock.skip(30_000).used(100_000), clock.skip(30_000).ends(700_000)]).to eq([100_000, 630_000])
  end

  it "stands still while paused, and has as much left afterwards as before" do
    paused = exam.pause(60_000)
    expect([paused.at(500_000), paused.left(500_000), paused.run_out?(10_000_000)]).to eq([60_000, 540_000, false])
    expect(paused.pause(90_000).at(500_000)).to eq(60_000)
    expect([paused.resume(500_000).at(500_000), paused.resume(500_000).at(501_000)]).to eq([60_000, 61_000])
    # A bench that was begun by nobody yet is paused and resumed without harm.
    unbegun = described_class.new(exam: true, rests: false)
    expect(unbegun.pause(10).resume(20).at(30)).to eq(0)
  end

  it "lands an act where it was seen, between the act before and now, and in an exam hardly earlier than now" do
    expect(practice.lands(8_500, 10_000, from_ms: 0)).to eq(8_500)
    expect(practice.lands(1_000, 10_000, from_ms: 0)).to eq(7_000)
    expect(practice.lands(99_000, 10_000, from_ms: 0)).to eq(10_000)
    expect(practice.lands(8_500, 10_000, from_ms: 9_000)).to eq(9_000)
    expect(practice.lands(8_500, 10_000, from_ms: 12_000)).to eq(12_000)
    expect(exam.lands(7_100, 10_000, from_ms: 0)).to eq(10_000 - described_class::LATEST_MS[:exam])
    expect(described_class::LATEST_MS[:exam]).to be < 1_000
  end
end

RSpec.describe "A bench's clock in the room", :web do
  include Requests

  let(:attempts) { stores.attempts }
  let(:clock) { SetClock.new.tap { |clock| Clock.source = clock } }
  let(:instructor) { make_instructor }
  let(:trainee) { make_trainee }

  def act(attempt, number, valve, seen_ms)
    post "/attempts/#{attempt.id}/actions",
      {kind: "turn", valve: valve, to: "1.0", action_id: "w-#{number}", seq: number, seen_ms: seen_ms},
      "HTTP_X_CSRF_TOKEN" => @token
  end

  it "goes on from where it stood when a practice bench left for an hour is worked again, by acts and polls alike" do
    clock
    attempt = begin_attempt(instructor, trainee, mode: "practice")
    sign_in("teo", "1234")
    get "/attempts/#{attempt.id}/bench"
    clock.let_go_by(3_600_000)
    act(attempt, 0, "test_cock_4", BenchClock::IDLE_MS)
    clock.let_go_by(1_000)
    get "/attempts/#{attempt.id}/frames?seq=1"
    act(attempt, 1, "test_cock_3", BenchClock::IDLE_MS + 1_000)
    clock.let_go_by(1_000)
    act(attempt, 2, "test_cock_2", BenchClock::IDLE_MS + 2_000)
    expect(attempts.log(attempt).map(&:at_ms)).to eq(
      [0, 1_000, 2_000].map { |later| BenchClock::IDLE_MS + later }
    )
  end

  it "puts an instructor's trouble in at the bench's own time" do
    clock
    attempt = begin_attempt(instructor, trainee, mode: "practice")
    clock.let_go_by(3_600_000)
    sign_in("ines")
    send_form "/attempts/#{attempt.id}/inject", what: "swing", action_id: "one"
    expect(attempts.log(attempt).map(&:at_ms)).to eq([BenchClock::IDLE_MS])
  end

  it "keeps an exam paused when newcomers are let in, and lets all go on afterwards" do
    clock
    exams = stores.exams
    course = make_class(instructor, trainee)
    exam = make_exam(instructor, course, :bottle_rinser)
    exams.open(exam, [trainee])
    begun = attempts.begin(attempts.of_exam(exam).first, clock.call)
    clock.let_go_by(10_000)
    exams.pause(exam, clock.call)
    late = make_trainee("late").tap { |person| stores.classes.add(course, person) }
    sign_in("ines")
    send_form "/exams/#{exam.id}/open"
    expect(exams.find(instructor, exam.id).status).to eq("paused")
    expect(attempts.find(begun.id)).to be_paused
    expect(attempts.of_exam(exam).map(&:trainee_id)).to include(late.id)
    clock.let_go_by(60_000)
    send_form "/exams/#{exam.id}/pause"
    expect(exams.find(instructor, exam.id).status).to eq("open")
    expect(attempts.find(begun.id).clock_ms(clock.call)).to eq(10_000)
  end

  it "hands in an exam bench given singly when its time is over, without anybody looking" do
    clock
    policy = Nurv::Grading::Policy.new({**SHIPPED.policies.fetch(:standard).data, time_limit_min: 10})
    attempt =
      attempts.create(
        station_row: make_station(instructor),
        instructor: instructor,
        trainee: trainee,
        mode: "exam",
        seed: 1,
        policy: policy
      )
    attempts.begin(attempt, clock.call)
    runner = Work::Runner.new(stores, keeper)
    clock.let_go_by(599_000)
    runner.tick
    expect(attempts.find(attempt.id)).to be_started
    clock.let_go_by(5_000)
    runner.tick
    expect(attempts.find(attempt.id)).to be_over
    expect(attempts.log(attempt).last_ms).to eq(600_000)
  end
end
