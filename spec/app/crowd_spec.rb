# frozen_string_literal: true

require "support/web"

# Many at work at once, all in one process: nobody gets what another one did, and nothing is done twice or not at all.
RSpec.describe "A room full of trainees", :web do
  let(:acts) { 14 }
  let(:names) { Array.new(6) { |number| "t#{number}" } }
  let(:benches) do
    owner = make_instructor
    names.map.with_index { |name, number| begin_attempt(owner, make_trainee(name), mode: "practice", seed: number + 1) }
  end

  # A browser of their own, signed in, and the token of its pages.
  def tablet(login)
    browser = Rack::Test::Session.new(Web::App)
    token = browser.get("/sign-in").body[/name="authenticity_token" value="([^"]+)"/, 1]
    browser.post("/sign-in", login: login, password: "1234", authenticity_token: token)
    [browser, browser.get("/help").body[/X-CSRF-Token":"([^"]+)"/, 1]]
  end

  def turn(browser, token, attempt, number)
    fields = {
      kind: "turn",
      valve: "test_cock_#{number % 4 + 1}",
      to: (number / 4).even? ? "0.5" : "0.0",
      speed: "normal",
      action_id: "act-#{number}",
      seq: number,
      seen_ms: number * 700
    }
    browser.post("/attempts/#{attempt.id}/actions", fields, "HTTP_X_CSRF_TOKEN" => token)
  end

  # Acts and polls as they come; now and then an act is sent twice, as by a page whose answer was lost.
  #
  # @return [Array<String>] what was not as it should be
  def work(attempt, login, place)
    browser, token = tablet(login)
    acts.times.flat_map do |number|
      answers = [turn(browser, token, attempt, number)]
      answers << turn(browser, token, attempt, number) if (number + place) % 5 == 3
      answers << browser.get("/attempts/#{attempt.id}/frames?seq=#{number + 1}")
      answers << browser.get("/attempts/#{attempt.id}/bench") if number % 7 == 2
      answers.filter_map do |answer|
        right = answer.status == 200 && answer.body.include?("/attempts/#{attempt.id}/frames?seq=#{number + 1}&")
        "#{attempt.id} after #{number}: #{answer.status} #{answer.body[0, 80]}" unless right
      end
    end
  end

  # A second window at the same bench, which only looks, and another way each time.
  #
  # @return [Array<String>] what was not as it should be
  def watch(attempt, login, done)
    browser, = tablet(login)
    wrong = []
    until done.call
      ["frames?seq=0", "frames?seq=0&inside=1", "bench", "coach?level=why&mode=quiet"].each do |page|
        answer = browser.get("/attempts/#{attempt.id}/#{page}")
        wrong << "#{page}: #{answer.status} #{answer.body[0, 80]}" unless answer.status == 200
      end
    end
    wrong
  end

  # Threads that change places in the middle of a step of the water, as they may, and seldom do within a second.
  around do |example|
    middle = Nurv::Hydraulics::Trajectory.instance_method(:accept)
    TracePoint.new(:call) { Thread.pass }.enable(target: middle) { example.run }
  end

  it "has every act of everybody once, in its own log, and every bench as its log alone says it" do
    workers = benches.zip(names).map.with_index { |pair, place| Thread.new { work(*pair, place) } }
    watchers = benches.zip(names).zip(workers).map do |pair, worker|
      Thread.new { watch(*pair, -> { !worker.alive? }) }
    end
    expect((workers + watchers).flat_map(&:value)).to eq([])
    benches.each do |attempt|
      log = stores.attempts.log(attempt)
      expect(log.map(&:id)).to eq(Array.new(acts) { |number| "act-#{number}" })
      now = stores.attempts.find(attempt.id)
      expect(now.last_seq).to eq(acts)
      soon_s = log.to_a.last.time_s + 1.5
      seen = ->(span) { [span.needle_at(soon_s), span.outlets_at(soon_s)] }
      alone = Nurv::Bench::Replay.new(attempt.variant, log).last
      expect(keeper.of(now).look(&seen)).to eq(seen.call(alone))
    end
  end
end
