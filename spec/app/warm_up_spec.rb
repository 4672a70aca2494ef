# frozen_string_literal: true

require "support/web"

# What a server has at hand before anybody comes, and what it keeps of what it has drawn.
RSpec.describe "A server that is warm", :web do
  include Requests

  it "has done and drawn a test at a bench of each kind, of which nothing is left" do
    tables = DB.tables - [:sqlite_sequence]
    answers = nil
    expect { answers = Web::WarmUp.new(Web::App, CATALOG).run }
      .not_to(change { tables.to_h { |table| [table, DB[table].count] } })
    # Nobody is refused, and nothing goes wrong.
    expect(answers.keys).to contain_exactly(200, 303)
    expect(answers[200]).to be > 200
  end

  it "has put to the database what is asked with every page" do
    attempt = begin_attempt(make_instructor, make_trainee)
    written = []
    allow(DB).to receive(:set_prepared_statement).and_wrap_original { |usual, *said|
      written << said.first
      usual.call(*said)
    }
    first = ->(warm) do
      fresh = Store::Cabinet.new(DB, CATALOG)
      served = Class.new(Web::App) do
        set :stores, fresh
        set :keeper, Benches::Keeper.new(fresh)
      end
      Web::WarmUp.new(served, CATALOG).send(:put_questions) if warm
      sign_in("teo", "1234")
      cookies = rack_mock_session.cookie_jar.for(URI("http://example.org/"))
      written.clear
      page = Rack::MockRequest.new(served).get("/attempts/#{attempt.id}/bench", "HTTP_COOKIE" => cookies)
      expect(page.status).to eq(200)
      written.dup
    end
    expect(first.call(false)).to include(:visit)
    expect(first.call(true)).to eq([])
  end

  it "draws benches that begin alike once, each with its own needle and under its own number" do
    owner = make_instructor
    first, second = Array.new(2) { |seed| begin_attempt(owner, make_trainee("t#{seed}"), seed: seed) }
    pages =
      [first, second].map.with_index do |attempt, index|
        sign_in("t#{index}", "1234")
        get("/attempts/#{attempt.id}/bench") && last_response.body
      end
    parts = pages.map { |text| text.scan(/<section\s+id="(?:hands|papers|report)".*?<\/section>/m) }
    expect(parts.map(&:size)).to eq([3, 3])
    expect(parts.uniq.size).to eq(1)
    expect(parts.first.join).not_to match(%r{attempts/\d})
    looks = [first, second].map { |attempt| Web::BenchScreen.live(attempt, Clock.wall_ms, KEEPER).looks }
    expect({looks.first => "drawn"}).to have_key(looks.last)
    expect(pages.map { |text| text[%r{hx-get="/attempts/(\d+)/frames}, 1] }).to eq([first.id, second.id].map(&:to_s))
  end

  # Benches are drawn ahead in a thread, while the page that asked for it is being drawn; what a view writes into is the
  # instance that draws it. Here the thread stands in the middle of a view while the page goes on.
  it "draws benches ahead, and not a word of them into the page being drawn" do
    # Nothing has been drawn before.
    stub_const("Web::Helpers::Benches::FIRST", Recent.new(300))
    attempt = make_attempt(make_instructor, make_trainee)
    sign_in("teo", "1234")
    asked = []
    threads = []
    interrupted = []
    amid = Queue.new
    go_on = Queue.new
    keeper = Class.new(SimpleDelegator) do
      define_method(:prepare) { |attempts, &draw| asked << [attempts, draw] }
    end
    slow = Class.new(Web::App) do
      set :keeper, keeper.new(KEEPER)
      # In the middle of the page.
      define_method(:asset) do |name|
        attempts, draw = asked.shift
        (threads << Thread.new { attempts.each(&draw) && amid << false }) && interrupted << amid.pop if draw
        super(name)
      end
      # A piece in a piece is asked for in the middle of it.
      define_method(:piece) do |view, **locals|
        next super(view, **locals) unless threads.include?(Thread.current)

        depth = Thread.current[:depth].to_i
        Thread.current[:depth] = depth + 1
        (amid << true) && go_on.pop if depth == 1 && !go_on.closed?
        super(view, **locals).tap { Thread.current[:depth] = depth }
      end
    end
    cookies = rack_mock_session.cookie_jar.for(URI("http://example.org/"))
    address = "http://example.org/attempts/#{attempt.id}/start"
    page = Rack::MockRequest.new(slow).get(address, "HTTP_COOKIE" => cookies).body
    go_on.close
    threads.each(&:join)
    plain = get("/attempts/#{attempt.id}/start") && last_response.body
    expect([interrupted, page.size]).to eq([[true], plain.size])
    token = /(TOKEN":|token" value=)"[^"]+"/i
    expect(page.gsub(token, "")).to eq(plain.gsub(token, ""))
  end

  it "has all benches of an exam ready, once, when one is asked about; and a bad one keeps nobody from theirs" do
    stub_const("Web::Helpers::Benches::READY", Recent.new(10))
    owner = make_instructor
    people = %w[una dov pia].map { |name| make_trainee(name) }
    exam = make_exam(owner, make_class(owner, *people), :bottle_rinser)
    stores.exams.open(exam, people)
    una, dov, pia = stores.attempts.of_exam(exam)
    asked = []
    ready = []
    keeper =
      Class.new(SimpleDelegator) do
        define_method(:prepare) do |attempts, &draw|
          asked << attempts.map(&:id)
          thread = super(attempts) do |attempt|
            raise ArgumentError, "torn" if attempt.id == dov.id

            draw.call(attempt)
            ready << attempt.id
          end
          thread.join
        end
      end
    app = Rack::MockRequest.new(Class.new(Web::App) { set :keeper, keeper.new(KEEPER) })
    start = lambda do |attempt, name|
      sign_in(name, "1234")
      cookies = rack_mock_session.cookie_jar.for(URI("http://example.org/"))
      app.get("/attempts/#{attempt.id}/start", "HTTP_COOKIE" => cookies)
    end
    expect { start.call(una, "una") }.to output("preparing bench #{dov.id}: ArgumentError: torn\n").to_stderr
    2.times { start.call(pia, "pia") }
    expect(asked).to eq([[una.id, dov.id, pia.id], [pia.id], [pia.id]])
    expect(ready).to eq([una.id, pia.id, pia.id, pia.id])
  end

  it "draws a picture as it would be drawn now, from what it keeps or anew, whatever is wrong there" do
    owner = make_instructor
    made = Hash.new(0)
    helpers = Class.new do
      include Web::Helpers::Benches

      define_method(:piece) { |view, screen:, **| (made[view] += 1) && [screen.drawn_psid, screen.outlets.map(&:word)] }
    end.new
    drawn = %i[bottle_rinser rp_swinging pvb_low dc_sov1 rp_zero].flat_map do |station|
      Array.new(2) do |seed|
        trainee = make_trainee("#{station}#{seed}")
        attempt = begin_attempt(owner, trainee, station: station, seed: 1, mode: "practice")
        # Where the main swings, that is seen inside.
        screen = Web::BenchScreen.live(attempt, Clock.wall_ms, KEEPER, inside: station == :rp_swinging)
        now = [screen.drawn_psid, screen.outlets.map(&:word)]
        expect(helpers.first_picture(screen)).to eq(now)
        [station, screen.still_picture.nil?]
      end
    end
    expect(drawn.to_h).to include(bottle_rinser: false, rp_swinging: true)
    expect(made[:"bench/_drawing"]).to be < drawn.size
  end

  it "draws what is in hand from what can be done there alone, whoever had it in hand before" do
    owner = make_instructor
    drawn = %i[pvb_pair rp_no_tags dc_healthy].flat_map do |id|
      attempt = begin_attempt(owner, make_trainee("t#{id}"), station: id)
      log = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first).run.log
      acts = log.reject { |action| action.kind == :submit }
      acts.each_slice([acts.size / 4, 1].max).map do |some|
        KEEPER.of(attempt).do_again(attempt, some)
        attempt = stores.attempts.find(attempt.id)
        screen = Web::BenchScreen.live(attempt, Clock.wall_ms, KEEPER)
        draw = -> { Web::App.new!.piece(:"bench/_hands", screen: screen, oob: false) }
        [draw.call, draw]
      end
    end
    stub_const("Web::Helpers::Benches::HANDS", Class.new { def fetch(_) = yield }.new)
    drawn.each { |kept, draw| expect(kept).to eq(draw.call) }
    expect(drawn.map(&:first).uniq.size).to be > 8
  end

  it "draws a bench that is found otherwise otherwise" do
    owner = make_instructor
    pages =
      %i[bottle_rinser rp_swinging].map.with_index do |station, index|
        trainee = make_trainee("t#{index}")
        attempt = begin_attempt(owner, trainee, station: station)
        sign_in("t#{index}", "1234")
        get("/attempts/#{attempt.id}/bench") && last_response.body[/<div\s+id="site".*?Beside the bench/m]
      end
    expect(pages.uniq.size).to eq(2)
  end

  it "lets go of what is oldest, and works nothing out twice" do
    kept = Recent.new(2)
    worked = []
    look = ->(key) { kept.fetch(key) { worked << key && key.to_s } }
    expect(%i[a a b a c a].map(&look)).to eq(%w[a a b a c a])
    expect(worked).to eq(%i[a b c a])
  end
end
