# frozen_string_literal: true

require "support/web"

RSpec.describe "An exam from open to closed", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let(:trainees) { %w[teo una].map { |login| make_trainee(login) } }
  let(:course) { make_class(instructor, *trainees) }
  let(:attempts) { stores.attempts }
  let(:exams) { stores.exams }
  let(:exam) do
    made = make_exam(instructor, course, :bottle_rinser)
    exams.open(made, trainees)
    exams.find(instructor, made.id)
  end

  def again = exams.find(instructor, exam.id)

  def bench_of(trainee) = attempts.of_exam(exam).find { |attempt| attempt.trainee_id == trainee.id }

  # Turns test cock 4 at a running bench, as its page would.
  def turn(attempt, id, wall = wall_ms)
    bench = keeper.of(attempt)
    bench.act(
      attempt,
      {kind: "turn", valve: "test_cock_4", to: 1.0},
      id: id,
      known_seq: attempt.last_seq,
      seen_ms: 0,
      wall_ms: wall
    )
  end

  it "is handed in for who worked when it is closed, leaves out who never began, and stays closed" do
    begun = attempts.begin(bench_of(trainees.first), wall_ms - 30_000)
    turn(begun, "one")
    exams.pause(exam, wall_ms)
    keeper.close(again, wall_ms)
    expect(again.status).to eq("closed")
    expect(attempts.of_exam(exam).map(&:status)).to eq(%w[submitted absent])
    expect(attempts.log(attempts.find(begun.id)).map(&:kind)).to eq(%i[turn submit])
    expect(exams.open(again, trainees + [make_trainee("late")])).to be(false)
    expect(again.status).to eq("closed")
    expect(attempts.of_exam(exam).size).to eq(2)
  end

  it "says so where somebody opens it again" do
    keeper.close(exam, wall_ms)
    sign_in("ines")
    send_form "/exams/#{exam.id}/open"
    follow_redirect! if last_response.redirect?
    expect(last_response.body).to match(/closed/i)
    expect(again.status).to eq("closed")
  end

  it "hands in the others where one bench cannot be" do
    one, two = trainees.map { |trainee| attempts.begin(bench_of(trainee), wall_ms - 30_000) }
    DB[:events].insert(
      attempt_id: one.id,
      seq: 1,
      action_id: "bad",
      at_ms: 10,
      body: JSON.generate(kind: "turn", valve: "magic_valve", to: 1.0, at_ms: 10, id: "bad"),
      recorded_at: Time.now
    )
    DB[:attempts].where(id: one.id).update(last_seq: 1)
    keeper.forget_all
    expect { keeper.hand_in([attempts.find(one.id), attempts.find(two.id)], wall_ms) }.to output(
      /handing in attempt #{one.id}/
    ).to_stderr
    expect(attempts.find(two.id).status).to eq("submitted")
  end

  it "shows at a glance who is where: the step by the procedure in hand, who waits, who has handed in" do
    begun = attempts.begin(bench_of(trainees.first), wall_ms - 30_000)
    turn(begun, "one")
    attempts.saw(attempts.find(begun.id), wall_ms + 60_000, 1.25)
    view = Web::RoomView.new(attempts.room_of(exam), wall_ms + 60_500)
    teo, una = view.tiles
    expect([teo.name, teo.state, teo.connected]).to eq(["Teo", "started", true])
    expect(teo.needle_psid).to be_within(0.1).of(1.3)
    expect(teo.last).to include("TC4")
    expect([una.state, una.step, una.share]).to eq(["assigned", "not begun", 0])
    expect(view.numbers).to include("at the bench" => 1, "connected" => 1, "handed in" => 0, "benches in all" => 2)
    later = Web::RoomView.new(attempts.room_of(exam), wall_ms + 400_000)
    expect(later.tiles.first).to have_attributes(connected: false, stuck: true)
  end

  it "comes out of an archive closed, whatever it was, with its benches handed in" do
    turn(attempts.begin(bench_of(trainees.first), wall_ms - 30_000), "one")
    packed = stores.archive.pack(course)
    CleanDatabase.clean
    copy = stores.archive.unpack(make_instructor("newcomer"), StringIO.new(packed))
    expect(exams.of_class(copy).map(&:status)).to eq(["closed"])
    expect(attempts.of_class(copy).map(&:status)).to include("submitted").and satisfy { |list|
      !list.include?("started")
    }
  end
end

RSpec.describe "A step back in practice", :web do
  include Requests

  let(:attempts) { stores.attempts }

  it "leaves the bench behind as it was, and goes on from before the last step on another" do
    instructor = make_instructor
    trainee = make_trainee
    attempt = begin_attempt(instructor, trainee, mode: "practice")
    bench = keeper.of(attempt)
    truth = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first)
    acts = truth.run.log.first(14)
    acts.each_with_index { |action, index| bench.do_again(attempts.find(attempt.id), [action]) if index < 14 }
    before = attempts.log(attempt).map(&:to_h)
    sign_in("teo", "1234")
    send_form "/attempts/#{attempt.id}/back"
    expect(last_response.status).to eq(302)
    again = attempts.find(last_response.location[%r{/attempts/(\d+)/}, 1].to_i)
    expect(again.id).not_to eq(attempt.id)
    expect([attempts.find(attempt.id).status, again.status]).to eq(%w[left started])
    expect(attempts.log(attempt).map(&:to_h)).to eq(before)
    kept = attempts.log(again).map(&:to_h)
    expect(kept).to eq(before.first(kept.size))
    expect(kept.size).to be_between(1, before.size - 1)
    expect(again.clock_ms(wall_ms)).to be_within(2_000).of(keeper.of(again).look { |_| kept.last[:at_ms] })
  end
end
