# frozen_string_literal: true

require "support/web"

RSpec.describe "A bench that a class looks at", :web do
  include Requests

  let(:clock) { SetClock.new }
  let!(:instructor) { make_instructor }
  let!(:trainee) { make_trainee }
  let!(:course) { make_class(instructor, trainee, make_trainee("tilda")) }
  let(:path) { "/classes/#{course.id}/board" }

  before do
    Clock.source = clock
    sign_in("ines")
    send_form path, station: make_station(instructor, :bottle_rinser).id
  end

  def board = stores.boards.of(course)

  def bench = stores.attempts.find(board.attempt_id)

  def log = stores.attempts.log(bench).map { |action| [action.at_ms, action.kind] }

  # The projector looks, twice a second.
  def let_go_by(milliseconds)
    (milliseconds / 500).times do
      clock.let_go_by(500)
      get "#{path}/scene"
    end
  end

  def steer(how) = send_form("#{path}/steer", how: how)

  def now_ms = bench.clock_ms(clock.now_ms)

  def act(**fields)
    known = {seq: bench.last_seq, seen_ms: now_ms, action_id: SecureRandom.hex(4)}
    send_form "/attempts/#{bench.id}/actions", **fields, **known
  end

  def frames
    text = get("#{path}/scene").body[/data-frames='([^']+)'/, 1]
    JSON.parse(CGI.unescapeHTML(text), symbolize_names: true)
  end

  it "comes with the needle's last minute, for a projector that is opened late" do
    act kind: "connect", hose: "high", to: "test_cock_2"
    act kind: "turn", valve: "test_cock_2", to: 1.0
    let_go_by(70_000)
    known = JSON.parse(CGI.unescapeHTML(get("#{path}/show").body[/data-known="([^"]+)"/, 1]))
    expect(known.map(&:first)).to eq(known.map(&:first).sort)
    expect(known.map(&:first).minmax).to eq([now_ms - 60_000, now_ms])
    expect(known.last.last).to be_within(0.05).of(frames[:needle].first.last)
  end

  it "stands still, goes on, is slowed and stepped by whoever holds the phone" do
    let_go_by(4_000)
    expect(now_ms).to eq(4_000)
    steer "pause"
    let_go_by(60_000)
    expect([now_ms, frames[:paused]]).to eq([4_000, "practice"])
    steer "step"
    expect(now_ms).to eq(4_500)
    steer "slow"
    steer "run"
    let_go_by(4_000)
    expect([now_ms, frames[:pace]]).to eq([5_500, 25])
    steer "normal"
    let_go_by(1_000)
    expect([now_ms, frames[:pace]]).to eq([6_500, nil])
  end

  it "is run back to what it was, and what was done comes again at its time to the last bit" do
    act(kind: "connect", hose: "high", to: "test_cock_2")
    let_go_by(2_000)
    act(kind: "turn", valve: "test_cock_2", to: "1", speed: "normal")
    let_go_by(6_000)
    done = log
    needle = keeper.of(bench).look { |span| span.needle_at(7.9) }
    first = bench
    steer "back_20"
    expect([now_ms, log, board.coming.size]).to eq([0, [[0, :connect]], 1])
    # A page of the bench that was there before goes on at the one that is there now.
    get "/attempts/#{first.id}/frames", {seq: 2}, "HTTP_HX_REQUEST" => "true"
    expect(last_response.headers["hx-redirect"]).to eq("/attempts/#{bench.id}/bench")
    let_go_by(8_000)
    expect([log, board.coming]).to eq([done, []])
    expect(keeper.of(bench).look { |span| span.needle_at(7.9) }).to eq(needle)
  end

  it "promises a projector nothing beyond an act that is still to come, and leaves it out once a hand is there" do
    let_go_by(3_000)
    act(kind: "turn", valve: "test_cock_2", to: "1", speed: "normal")
    let_go_by(500)
    steer "back_5"
    let_go_by(2_000)
    expect(frames[:until_ms]).to eq(3_000)
    act(kind: "level", to: "4")
    let_go_by(3_000)
    expect(log.map(&:last)).to eq([:level])
  end

  it "asks every tablet of the class, counts hands and answers, and says what came true only when it is shown" do
    send_form "#{path}/question", kind: "part"
    send_form "#{path}/trouble", what: "check_valve_1_fouled", severity: "gross", action_id: "one"
    send_form "#{path}/trouble", what: "check_valve_1_fouled", severity: "gross", action_id: "one"
    expect(log.map(&:last)).to eq([:inject])
    question = stores.boards.question(course.id)
    {"teo" => "check_valve_1", "tilda" => "relief_valve"}.each do |login, choice|
      sign_in(login, "1234")
      expect(get("/asked").body).to include("Which part is at fault?")
      expect(last_response.body).not_to include("fouled")
      send_form "/asked/#{question.id}", choice: "relief_valve"
      send_form "/asked/#{question.id}", choice: choice
      expect(last_response.body).not_to include("So it was")
    end
    sign_in("ines")
    send_form "#{path}/answer", check_valve_2: "3", relief_valve: "-2"
    counted = stores.boards.counts(stores.boards.question(course.id))
    expect(counted).to eq({check_valve_1: 1, relief_valve: 1, check_valve_2: 3})
    expect(html).not_to include("✓")
    send_form "#{path}/answer", show: "1", check_valve_2: "3"
    expect(get("#{path}/scene").body).to match(/board-true">\s*<span[^>]*>CV1 ✓/)
    sign_in("teo", "1234")
    expect(get("/asked").body).to include("You said: CV1", "So it was: CV1")
    send_form "/asked/#{question.id}", choice: "relief_valve"
    expect(stores.boards.answer_of(question, trainee)).to eq(:check_valve_1)
    clock.let_go_by(Store::Boards::SHOWN_S * 1_000 + 1_000)
    expect(get("/asked").body).not_to include("Which part")
  end

  it "asks nobody who sits in an exam, and nobody of another class" do
    send_form "#{path}/question", kind: "needle"
    begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    expect(get("/asked").status).to eq(286)
    expect(send_form("/asked/#{stores.boards.question(course.id).id}", choice: "falls").status).to eq(286)
    make_class(make_instructor("other"), make_trainee("theirs"))
    sign_in("theirs", "1234")
    expect(get("/asked").body).not_to include("needle")
    expect(send_form("/asked/#{stores.boards.question(course.id).id}", choice: "falls").status).to eq(404)
  end

  it "says why where it is asked to, naming what is hidden only where the inside is shown" do
    send_form "#{path}/why", says: "1"
    expect(get("#{path}/show").body).to include("hangs free", "cut-disc", "inside-text")
    send_form "#{path}/view", view: "whole"
    expect(frames).not_to include(:inside, :cut)
    send_form "#{path}/close"
    expect(stores.boards.of(course)).to be_nil
  end
end
