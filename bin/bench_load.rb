# frozen_string_literal: true

# A served exam under load on loopback, for a bounded time: trainees that act and watch, each with a connection of its
# own, and an instructor with the room view open.
class BenchLoad
  Result = Struct.new(:acts, :frames, :pages, :room, :errors, :lost)

  def initialize(station_rows, instructor, trainees, pause:, seconds:, room_view: false)
    course = STORES.classes.create(instructor, "Load #{trainees.size}")
    trainees.each { |trainee| STORES.classes.add(course, trainee) }
    stations = station_rows.map { |row| { station_id: row.id, title: row.title, body: row.body, pool: "A" } }
    @exam =
      STORES.exams.create(
        instructor,
        course,
        title: "Load",
        policy: CATALOG.policies.fetch(:standard),
        stations: stations,
        shuffled: false,
        seed: trainees.size
      )
    STORES.exams.open(@exam, trainees)
    store = STORES.attempts
    @attempts =
      store.of_exam(@exam).sort_by(&:trainee_id).map { |attempt| store.begin(attempt, (Time.now.to_f * 1000).round) }
    @trainees = trainees.sort_by(&:id)
    @instructor = instructor
    @pause = pause
    @seconds = seconds
    @room_view = room_view
  end

  def run
    port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
    environment = {
      "PORT" => port.to_s,
      "APP_ENV" => "test",
      # As a server runs: the gems of the tests need not be there.
      "BUNDLE_WITHOUT" => "development:test",
      "WEB_CONCURRENCY" => ENV.fetch("BENCH_WORKERS", "2"),
      "NURV_DATABASE" => ENV["NURV_DATABASE"],
      "RUBYOPT" => "--yjit",
      "MALLOC_ARENA_MAX" => "2",
      "NURV_WORKER" => "1",
      "SESSION_SECRET" => SETTINGS.session_secret
    }
    DB.disconnect
    server =
      Process.spawn(
        environment,
        "bundle",
        "exec",
        "puma",
        "-C",
        "config/puma.rb",
        "config.ru",
        out: File::NULL,
        err: "tmp/bench-server.log"
      )
    wait_for(port)
    watcher = @room_view ? Thread.new { watch(port) } : nil
    results =
      @attempts
        .each_with_index
        .map { |attempt, index| Thread.new { trainee(port, attempt, @trainees[index], index) } }
        .map(&:value)
    room, room_errors = watcher ? watcher.value : [[], 0]
    Result.new(
      results.flat_map { |item| item[0] },
      results.flat_map { |item| item[1] },
      results.flat_map { |item| item[4] },
      room,
      results.sum { |item| item[2] } + room_errors,
      lost(results)
    )
  ensure
    Process.kill(:TERM, server)
    Process.wait(server)
  end

  private

  def wait_for(port)
    200.times do
      TCPSocket.new("127.0.0.1", port).close
      return
    rescue SystemCallError
      sleep 0.1
    end
    raise "the server did not start"
  end

  def lost(results)
    @attempts.each_with_index.sum do |attempt, index|
      (DB[:events].where(attempt_id: attempt.id).count - results[index][3]).abs
    end
  end

  # Turns valves and jots, one act a pause, and asks for frames once a second as a page does.
  def trainee(port, attempt, person, index)
    http = Net::HTTP.start("127.0.0.1", port)
    cookie, token = sign_in(http, person)
    acts = []
    frames = []
    errors = acknowledged = 0
    finish = now + @seconds
    pages = []
    # Everybody opens their bench in the same breath.
    timed(pages) { get(http, "/attempts/#{attempt.id}/bench", cookie) }
    sleep(index * @pause / @attempts.size)
    while now < finish
      started = now
      answer = timed(acts) { post(http, "/attempts/#{attempt.id}/actions", act(acknowledged), cookie, token) }
      (answer.code == "200" && answer.body.include?("data-seq=\"#{acknowledged + 1}\"")) ?
        acknowledged += 1 :
        errors += 1
      @pause.round.times { timed(frames) { get(http, "/attempts/#{attempt.id}/frames?seq=#{acknowledged}", cookie) } }
      sleep([@pause - (now - started), 0].max)
    end
    [acts, frames, errors, acknowledged, pages]
  end

  # The room view as it refreshes itself, every two seconds.
  def watch(port)
    http = Net::HTTP.start("127.0.0.1", port)
    cookie, = sign_in(http, @instructor)
    times = []
    errors = 0
    finish = now + @seconds
    while now < finish
      answer = timed(times) { get(http, "/exams/#{@exam.id}/benches", cookie) }
      errors += 1 unless answer.code == "200"
      sleep 2
    end
    [times, errors]
  end

  def act(number)
    fields =
      case number % 5
      when 4
        { kind: "jot", item: "check_valve_1_apparent", value: number.to_s }
      else
        { kind: "turn", valve: "test_cock_#{number % 5 + 1}", to: (number / 5).even? ? 1.0 : 0.0, speed: "normal" }
      end
    fields.merge(action_id: "load-#{number}", seq: number, seen_ms: 999_999_999)
  end

  def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

  def timed(list)
    started = now
    yield.tap { list << (now - started) * 1000.0 }
  end

  def sign_in(http, person)
    page = http.get("/sign-in")
    raise "sign-in: #{page.code} #{page.body[0, 300]}" unless page["set-cookie"]

    jar = kept({}, page)
    answer =
      post(
        http,
        "/sign-in",
        { login: person.login, password: "x" },
        header(jar),
        page.body[/X-CSRF-Token":"([^"]+)"/, 1]
      )
    raise "sign-in as #{person.login}: #{answer.code}" unless answer.code.start_with?("3")

    jar = kept(jar, answer)
    page = get(http, "/help", header(jar))
    [header(kept(jar, page)), page.body[/X-CSRF-Token":"([^"]+)"/, 1]]
  end

  # Cookies as a browser keeps them.
  def kept(jar, answer)
    Array(answer.get_fields("set-cookie")).reduce(jar) do |all, text|
      all.merge([text.split(";").first.split("=", 2)].to_h)
    end
  end

  def header(jar) = jar.map { |name, value| "#{name}=#{value}" }.join("; ")

  def get(http, path, cookie) = http.get(path, "Cookie" => cookie)

  def post(http, path, fields, cookie, token)
    request = Net::HTTP::Post.new(path, "Cookie" => cookie, "X-CSRF-Token" => token)
    request.set_form_data(fields)
    http.request(request)
  end
end
