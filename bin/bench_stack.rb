# frozen_string_literal: true

require "rack/mock"

# What an act and a poll cost the server, whole stack: requests of a signed-in trainee, answered in this process, every
# act of an expert at its own time and polls at the page's pace in between. The wall clock is turned on by hand.
class BenchStack
  POLL_MS = 1_000
  # Polls in a row when nothing is done for long.
  MOST_POLLS = 40
  Result = Struct.new(:acts, :polls, :empty_polls, :cold, :bytes, :errors, :whys)
  # So often, in polls.
  WHY_EVERY = 5

  # @param inside [Boolean] the page shows the inside, and now and then asks why the needle does what it does
  def initialize(rows, instructor, trainee, inside: false)
    @inside = inside
    @rows = rows
    @instructor = instructor
    @trainee = trainee
    @wall_ms = Clock.wall_ms
    @cookies = {}
    @app = Rack::Builder.parse_file(File.expand_path("../config.ru", __dir__))
    @app = @app.first if @app.is_a?(Array)
    stack = self
    Clock.singleton_class.class_eval do
      alias_method :true_wall_ms, :wall_ms
      define_method(:wall_ms) { stack.wall_ms }
    end
  end

  attr_reader :wall_ms

  # @return [Result] CPU in ms of each act and each poll
  def run
    sign_in
    # What was made while starting is searched once, as a server has done when it is warm.
    GC.start
    @result = Result.new([], [], 0, [], [], 0, [])
    @rows.each { |row| work(row) }
    @result
  ensure
    Clock.singleton_class.class_eval { alias_method :wall_ms, :true_wall_ms }
  end

  private

  def work(row)
    attempt =
      STORES.attempts.create(station_row: row, instructor: @instructor, trainee: @trainee, mode: "practice", seed: 1)
    STORES.attempts.begin(attempt, @wall_ms)
    began = @wall_ms
    log = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first).run.log
    page = get("/attempts/#{attempt.id}/bench").body
    shown = page[/data-shown="([^"]*)"/, 1].to_s
    log.each_with_index do |action, seq|
      shown = polls(attempt, seq, began + action.at_ms, shown)
      @wall_ms = [@wall_ms, began + action.at_ms].max
      # Now and then a process that has never seen the bench: another one answers after a crash, or where benches move.
      cold = (seq % 10) == 9
      KEEPER.forget_all if cold
      shown = act(attempt, action, seq, cold) || shown
    end
  end

  def polls(attempt, seq, until_ms, shown)
    MOST_POLLS.times do |number|
      break if @wall_ms + POLL_MS >= until_ms

      @wall_ms += POLL_MS
      path = "/attempts/#{attempt.id}/frames?seq=#{seq}&shown=#{shown}#{"&inside=1" if @inside}"
      answer = measured(@result.polls) { get(path) }
      if @inside && (number % WHY_EVERY).zero?
        measured(@result.whys) { get("/attempts/#{attempt.id}/coach?level=why&inside=1&mode=quiet") }
      end
      @result.empty_polls += 1 if answer.status == 204
      @result.errors += 1 unless [200, 204].include?(answer.status)
      shown = answer.body[/data-shown="([^"]*)"/, 1] || shown
    end
    shown
  end

  def act(attempt, action, seq, cold)
    fields = action.to_h.except(:at_ms, :id).merge(action_id: "stack-#{seq}", seq: seq, seen_ms: action.at_ms)
    answer = measured(cold ? @result.cold : @result.acts) { post("/attempts/#{attempt.id}/actions", fields) }
    @result.errors += 1 unless answer.status == 200 && !answer.body.include?("message-refused")
    @result.bytes << answer.body.bytesize
    answer.body[/data-shown="([^"]*)"/, 1]
  end

  # What the server does of it: a browser's part, to write a request and to read an answer, is none of its work.
  def measured(list)
    yield.tap { list << @cpu_ms }
  end

  def sign_in
    token = get("/sign-in").body[/X-CSRF-Token":"([^"]+)"/, 1]
    post("/sign-in", {login: @trainee.login, password: "x"}, token)
    @token = get("/help").body[/X-CSRF-Token":"([^"]+)"/, 1]
  end

  def get(path) = request("GET", path)

  def post(path, fields, token = @token) =
    request("POST", path, :params => fields.transform_keys(&:to_s).transform_values(&:to_s),
      "HTTP_X_CSRF_TOKEN" => token)

  def request(method, path, **options)
    env = Rack::MockRequest.env_for(path, {method: method, **options}.transform_keys { |key|
      (key.is_a?(Symbol) && key != :params && key != :method) ? key.to_s : key
    })
    env["HTTP_COOKIE"] = @cookies.map { |name, value| "#{name}=#{value}" }.join("; ")
    env["HTTP_HX_REQUEST"] = "true" unless path == "/sign-in" || path == "/help"
    started = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)
    status, headers, body = @app.call(env)
    text = body.enum_for(:each).to_a.join
    @cpu_ms = (Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID) - started) * 1000.0
    body.close if body.respond_to?(:close)
    answer = Rack::MockResponse.new(status, headers, [text])
    Array(answer.headers["set-cookie"]).flat_map { |text| text.split("\n") }.each do |text|
      name, value = text.split(";").first.split("=", 2)
      @cookies[name] = value
    end
    answer
  end
end
