# frozen_string_literal: true

require "support/web"

# What a page asks every second: told anew only where something is new, and nothing to whom it is not for.
RSpec.describe "Polling a bench", :web do
  include Requests

  let(:clock) { SetClock.new.tap { |clock| Clock.source = clock } }
  let(:trainee) { make_trainee }
  let(:attempt) do
    clock
    begin_attempt(make_instructor, trainee)
  end

  def shown = last_response.body[/data-shown="([^"]*)"/, 1]

  def poll(known = nil, seq: stores.attempts.find(attempt.id).last_seq, **more)
    query = URI.encode_www_form({seq: seq, shown: known, **more}.compact)
    get "/attempts/#{attempt.id}/frames?#{query}"
    last_response
  end

  def poll_with(cookie)
    get "/attempts/#{attempt.id}/frames?seq=0", {}, "HTTP_COOKIE" => "nurv.session=#{cookie}"
    last_response
  end

  def act(bench, **fields)
    known = {action_id: SecureRandom.uuid, seq: stores.attempts.find(bench.id).last_seq, seen_ms: 999_999}
    post "/attempts/#{bench.id}/actions", {**fields, **known}, "HTTP_X_CSRF_TOKEN" => @token
    last_response
  end

  def turn(valve, to, bench = attempt) = act(bench, kind: "turn", valve: valve, to: to, speed: "normal")

  before do
    attempt
    sign_in("teo", "1234")
    clock.let_go_by(30_000)
  end

  it "is answered with nothing while all stands as the page has it, and the session is not sent again" do
    expect(poll.status).to eq(200)
    known = shown
    clock.let_go_by(1_000)
    expect(poll(known).status).to eq(204)
    expect(last_response.body).to eq("")
    expect(last_response.headers["set-cookie"]).to be_nil
    expect(last_response.headers["cache-control"]).to eq("no-store")
  end

  it "is answered as soon as anything moves, and again with nothing when it has come to rest" do
    poll
    known = shown
    turn("test_cock_4", "1.0")
    opened = last_response.body[/data-shown="([^"]*)"/, 1]
    expect(opened).not_to eq(known)
    clock.let_go_by(1_000)
    expect(poll(known).status).to eq(200)
    turn("test_cock_4", "0.0")
    act(attempt, kind: "watch", at: "relief_port")
    closed = last_response.body[/data-shown="([^"]*)"/, 1]
    # To eyes on the port a wet body drips beside it now and then, so there is something to tell within its seven
    # seconds; and between two drops there is not.
    told = Array.new(14) do
      clock.let_go_by(1_000)
      status = poll(closed).status
      closed = shown if status == 200
      status
    end
    expect(told.uniq).to contain_exactly(200, 204)
  end

  # As a page asks, and in a spelling by which the question is not taken for a poll and goes to the page's own route.
  def both_ways(bench, query)
    %w[frames fram%65s].map do |name|
      get "/attempts/#{bench.id}/#{name}?#{URI.encode_www_form(query)}"
      last_response
    end
  end

  it "says what the page's own route says, after all acts at benches of every kind, and nothing where nothing is new" do
    DB[:attempts].where(id: attempt.id).update(status: Store::Status::SUBMITTED)
    ida = make_instructor("ida")
    statuses = %i[rp_vault pvb_pair dc_healthy rp_swinging].flat_map do |id|
      bench = begin_attempt(ida, trainee, station: id, mode: "practice")
      log = Nurv::Expert::Truth.of(bench.variant, bench.station.procedures.first).run.log.first(24)
      known = nil
      log.each_slice(3).flat_map do |acts|
        KEEPER.of(stores.attempts.find(bench.id)).do_again(stores.attempts.find(bench.id), acts)
        clock.set(bench.anchor_wall_ms + acts.last.at_ms)
        Array.new(3) do |number|
          clock.let_go_by(700)
          query = {seq: stores.attempts.find(bench.id).last_seq, shown: known, inside: number / 2}
          poll, page = both_ways(bench, query)
          expect(page.status).to eq(200)
          known = page.body[/data-shown="([^"]*)"/, 1]
          expect(poll.body).to eq(page.body) if poll.status == 200
          expect([query[:shown], still?(page)]).to eq([known, true]) if poll.status == 204
          poll.status
        end
      end
    end
    expect(statuses.tally.values_at(200, 204)).to all(be > 10)
    expect(statuses.tally.size).to eq(2)
  end

  # @return [Boolean] nothing of what a page is told to show changes within it
  def still?(page)
    told = JSON.parse(CGI.unescapeHTML(page.body[/data-frames='([^']*)'/, 1]))
    shown = told.values_at("needle", "face", "poppet", "tube", "line_gauge") + told["outlets"].values
    shown.compact.all? { |points| points.map(&:last).uniq.size == 1 }
  end

  it "takes a page that shows the pressures inside for another than one that does not" do
    DB[:attempts].where(id: attempt.id).update(mode: "practice")
    poll
    known = shown
    expect(poll(known, inside: 1).status).to eq(200)
    expect(JSON.parse(CGI.unescapeHTML(last_response.body[/data-frames='([^']*)'/, 1]))).to have_key("inside")
    with = shown
    expect(poll(with, inside: 1).status).to eq(204)
    expect(poll(with).status).to eq(200)
  end

  it "tells a pause, and what else the clock does, at once" do
    exam = DB[:attempts].where(id: attempt.id)
    exam.update(mode: "exam")
    poll
    known = shown
    expect(poll(known).status).to eq(204)
    exam.update(paused_wall_ms: clock.call)
    expect(poll(known).status).to eq(200)
    exam.update(paused_wall_ms: nil, extra_ms: 300_000)
    expect(poll(known).status).to eq(stores.attempts.find(attempt.id).limit_ms ? 200 : 204)
  end

  it "says nothing of a bench to anybody but who works at it" do
    known = poll && shown
    make_trainee("una")
    sign_in("una", "1234")
    expect(poll(known).status).to eq(404)
    clear_cookies
    expect(poll(known).status).not_to eq(204)
  end

  it "goes on to the page when a bench is handed in, or was worked elsewhere" do
    poll
    known = shown
    expect(poll(known, seq: 99).body).to include(%(id="live"))
    DB[:attempts].where(id: attempt.id).update(status: Store::Status::SUBMITTED)
    expect(poll(known).headers["hx-redirect"]).to eq("/attempts/#{attempt.id}/result")
  end

  it "keeps the water as it runs on, for a process that has never seen the bench" do
    swinging = begin_attempt(make_instructor("ida"), trainee, station: :rp_swinging)
    look = -> { get("/attempts/#{swinging.id}/frames?seq=1") && last_response.body }
    kept = -> { DB[:snapshots].where(attempt_id: swinging.id).get(:running) }
    turn("test_cock_4", "0.5", swinging)
    expect(kept.call).to be_nil
    20.times do
      clock.let_go_by(1_000)
      look.call
    end
    expect(Nurv::Bench::Snapshot.load_running(kept.call).taken).to be > Benches::LiveBench::KEEP_EVERY
    warm = look.call
    KEEPER.forget_all
    expect(look.call).to eq(warm)
    bench = KEEPER.of(stores.attempts.find(swinging.id))
    skipped = bench.look { |span| span.trajectory.taken - span.trajectory.steps.size }
    expect(skipped).to be > Benches::LiveBench::KEEP_EVERY
  end

  it "believes no cookie that is not the sealed one, nor one that was signed out, however often it was opened" do
    expect(poll.status).to eq(200)
    sealed = Rack::Utils.escape(rack_mock_session.cookie_jar["nurv.session"])
    token = @token
    clear_cookies
    2.times { expect(poll_with(sealed).status).to eq(200) }
    [sealed.sub(/.{9}\z/, "AAAAAAAAA"), sealed[0..-5], ""].each do |text|
      2.times { expect(poll_with(text).headers["location"]).to eq("/sign-in") }
    end
    post "/sign-out", {}, "HTTP_X_CSRF_TOKEN" => token, "HTTP_COOKIE" => "nurv.session=#{sealed}"
    2.times { expect(poll_with(sealed).headers["location"]).to eq("/sign-in") }
  end

  it "notes for all benches together that their pages are there, once a second" do
    other = begin_attempt(attempt && make_instructor("ida"), make_trainee("una"))
    now = clock.call
    [attempt, other].each { |bench| stores.attempts.saw(stores.attempts.find(bench.id), now + 10_000, 1.5) }
    seen = -> { DB[:attempts].where(id: [attempt.id, other.id]).select_map(:needle_psid).compact }
    expect(seen.call.size).to be <= 1
    stores.attempts.saw(stores.attempts.find(attempt.id), now + 14_000, 2.5)
    expect(seen.call.sort).to eq([1.5, 2.5])
  end
end
