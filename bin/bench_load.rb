# frozen_string_literal: true

# A served exam under load on loopback, for a bounded time: trainees that act, and poll at the page's own pace, each
# with a connection of its own, and an instructor with the room view open. What happens while a server warms up is not
# counted, but for the first opening of all benches.
class BenchLoad
  # Server CPU ms a request, the generator's share of a core, and the share of this machine that its host gave to
  # others, over what is counted.
  Result =
    Struct.new(:acts, :frames, :pages, :room, :errors, :lost, :empty, :server_ms, :generator_share, :stolen_share,
      :bytes)
  POLL_S = 1.0
  RAMPS = 4
  WARM_UP_S = Float(ENV.fetch("BENCH_WARM_UP", "20"))

  # @param acts [Symbol] :cocks turns one test cock after another wide open and shut, the worst for the water; :test
  #   does what an expert does at that bench, without the waits; :drag turns a bleed by hand, a second of it as four
  #   ramps, and lets go for a second
  def initialize(station_rows, instructor, trainees, pause:, seconds:, room_view: false, acts: :cocks)
    course = STORES.classes.create(instructor, "Load #{trainees.size}")
    trainees.each { |trainee| STORES.classes.add(course, trainee) }
    stations = station_rows.map { |row| {station_id: row.id, title: row.title, body: row.body, pool: "A"} }
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
    @attempts = store.of_exam(@exam).sort_by(&:trainee_id).uniq(&:trainee_id)
    @trainees = trainees.sort_by(&:id)
    @instructor = instructor
    @pause = pause
    @seconds = seconds
    @room_view = room_view
    @begun = Array.new(@attempts.size, 0)
    @acts = acts
    spread_out if acts == :test
  end

  # BENCH_WORKERS: processes behind one door, between which requests wander. BENCH_PROCESSES: servers each with a door
  # of its own, and every bench at home at one of them, as behind a proxy that hashes on the attempt.
  def run
    DB.disconnect
    @servers = Array.new(Integer(ENV.fetch("BENCH_PROCESSES", "1"))) { |number| start(worker: number.zero?) }
    @servers.each { |_, port| wait_for(port) }
    port = @servers.first.last
    @counted_from = now + WARM_UP_S
    meter = Thread.new { meter_cpu }
    tidy = Thread.new { tidy_up }
    watcher = @room_view ? Thread.new { watch(port) } : nil
    results =
      @attempts
        .each_with_index
        .map { |attempt, index| Thread.new { trainee(home_of(attempt), attempt, @trainees[index], index) } }
        .map(&:value)
    room, room_errors = watcher ? watcher.value : [[], 0]
    tidy.join
    server_s, generator_s, stolen_s = meter.value
    acts = results.flat_map { |item| item[:acts] }
    frames = results.flat_map { |item| item[:frames] }
    Result.new(
      acts,
      frames,
      results.flat_map { |item| item[:pages] },
      room,
      results.sum { |item| item[:errors] } + room_errors,
      lost(results),
      results.sum { |item| item[:empty] },
      server_s * 1000.0 / [acts.size + frames.size, 1].max,
      generator_s / @seconds,
      stolen_s / @seconds / Etc.nprocessors,
      results.flat_map { |item| item[:bytes] }
    )
  ensure
    @servers.each do |pid, _|
      Process.kill(:TERM, pid)
      Process.wait(pid)
    end
  end

  private

  # @return [Array(Integer, Integer)] process and port
  def start(worker:)
    port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
    environment = {
      "PORT" => port.to_s,
      "APP_ENV" => "test",
      # As a server runs: the gems of the tests need not be there.
      "BUNDLE_WITHOUT" => "development:test",
      "WEB_CONCURRENCY" => ENV.fetch("BENCH_WORKERS", "2"),
      "NURV_DATABASE" => ENV["NURV_DATABASE"],
      "RUBYOPT" => "--yjit",
      "NURV_WORKER" => worker ? "1" : "0",
      "SESSION_SECRET" => SETTINGS.session_secret
    }
    command = ". bin/setup.sh && tune && use_allocator && exec bundle exec puma -C config/puma.rb config.ru"
    [Process.spawn(environment, "sh", "-c", command, out: File::NULL, err: "tmp/bench-server.log"), port]
  end

  def home_of(attempt) = @servers[attempt.id % @servers.size].last

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
      (DB[:events].where(attempt_id: attempt.id).count - results[index][:acknowledged]).abs
    end
  end

  # What other measures left here is searched a second before all open their benches: in the middle of it, it would be
  # taken for the server's.
  def tidy_up
    sleep([@counted_from - WARM_UP_S / 2.0 - 1.0 - now, 0].max)
    GC.start
  end

  # CPU seconds of the server's processes that answer, and of this one, while it is counted.
  def meter_cpu
    sleep([@counted_from - now, 0].max)
    before = cpu_seconds
    sleep @seconds
    cpu_seconds.zip(before).map { |later, earlier| later - earlier }
  end

  # @return [Array(Float, Float, Float)] of the server, of this process, and stolen by the host
  def cpu_seconds
    stolen = File.read("/proc/stat")[/\Acpu .*/].split[8].to_i / 100.0
    [server_cpu, Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID), stolen]
  rescue SystemCallError
    [server_cpu, Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID), 0.0]
  end

  def server_cpu
    ticks = answering.sum { |pid| File.read("/proc/#{pid}/stat").split(") ").last.split.values_at(11, 12).sum(&:to_i) }
    ticks / 100.0
  rescue SystemCallError
    0.0
  end

  # The server and its workers; not the process for long work.
  def answering
    servers = @servers.map(&:first)
    children = Dir["/proc/[0-9]*/stat"].filter_map do |path|
      pid, parent = File.read(path).then { |text| [text.to_i, text.split(") ").last.split[1].to_i] }
      pid if servers.include?(parent) && File.read("/proc/#{pid}/cmdline").start_with?("puma")
    rescue SystemCallError
      nil
    end
    servers + children
  end

  # Turns valves and jots, one act a pause, and asks for frames every second, as a page does.
  def trainee(port, attempt, person, index)
    http = Net::HTTP.start("127.0.0.1", port)
    cookie, token = sign_in(http, person)
    all = {acts: [], frames: [], pages: [], errors: 0, acknowledged: @begun[index], empty: 0, shown: ""}
    all[:bytes] = []
    # Everybody reads what is asked of them, and opens their bench in the same breath.
    get(http, "/attempts/#{attempt.id}/start", cookie)
    sleep([@counted_from - WARM_UP_S / 2.0 - now, 0].max)
    timed(all[:pages], always: true) do
      post(http, "/attempts/#{attempt.id}/begin", {}, cookie, token)
      get(http, "/attempts/#{attempt.id}/bench", cookie)
    end
    next_act = now + index * @pause / @attempts.size
    next_poll = now + index * POLL_S / @attempts.size
    finish = @counted_from + @seconds
    while (due = [next_act, next_poll].min) < finish
      sleep([due - now, 0].max)
      if next_act <= next_poll
        one_act(http, attempt, all, cookie, token, index)
        next_act = [next_act + pause_after(all[:acknowledged]), now].max
        # The page's next poll is a second after what an act has drawn.
        next_poll = now + POLL_S
      else
        one_poll(http, attempt, all, cookie)
        next_poll = [next_poll + POLL_S, now].max
      end
    end
    all
  end

  # A hand that turns sends a ramp four times a second.
  def pause_after(number)
    return @pause unless @acts == :drag

    (number % RAMPS).zero? ? 1.0 + 1.0 / RAMPS : 1.0 / RAMPS
  end

  def one_act(http, attempt, all, cookie, token, index)
    path = "/attempts/#{attempt.id}/actions"
    answer = timed(all[:acts]) { post(http, path, act(all[:acknowledged], index), cookie, token) }
    all[:bytes] << answer.body.to_s.bytesize
    if answer.code == "200" && answer.body.include?("data-seq=\"#{all[:acknowledged] + 1}\"")
      all[:acknowledged] += 1
      all[:shown] = answer.body[/data-shown="([^"]*)"/, 1]
    # What a bench refuses is answered as it should be: a kit that still wakes shows nothing, and is asked again.
    elsif answer.code != "200" || !answer.body.include?("message-refused")
      all[:errors] += 1
    end
  end

  def one_poll(http, attempt, all, cookie)
    path = "/attempts/#{attempt.id}/frames?seq=#{all[:acknowledged]}&shown=#{all[:shown]}"
    answer = timed(all[:frames]) { get(http, path, cookie) }
    all[:empty] += 1 if answer.code == "204" && now > @counted_from
    all[:errors] += 1 unless %w[200 204].include?(answer.code)
    all[:shown] = answer.body.to_s[/data-shown="([^"]*)"/, 1] || all[:shown]
  end

  # The room view as it refreshes itself, every two seconds.
  def watch(port)
    http = Net::HTTP.start("127.0.0.1", port)
    cookie, = sign_in(http, @instructor)
    times = []
    errors = 0
    finish = @counted_from + @seconds
    while now < finish
      answer = timed(times) { get(http, "/exams/#{@exam.id}/benches", cookie) }
      errors += 1 unless answer.code == "200"
      sleep 2
    end
    [times, errors]
  end

  # Testers are not all at the same act: each has done a part of the test before they are counted.
  def spread_out
    to_come = ((WARM_UP_S + @seconds) / @pause).ceil
    logs = Hash.new { |all, station| all[station] = expert_acts(station) }
    @fields =
      @attempts.each_with_index.map do |item, index|
        acts = logs[item.station]
        done = acts.first([acts.size - to_come, 0].max * index / @attempts.size)
        @begun[index] = done.size
        item = STORES.attempts.begin(item, Clock.wall_ms)
        KEEPER.of(item).do_again(item, done)
        STORES.attempts.skip(item, done.empty? ? 0 : done.last.at_ms / 1000)
        acts.map { |action| action.to_h.except(:at_ms, :id) }
      end
    KEEPER.forget_all
  end

  def expert_acts(station)
    variant = Nurv::Stations::Variant.new(station, 1)
    Nurv::Expert::Truth.of(variant, station.procedures.first).run.log.reject { |action| action.kind == :submit }
  end

  # Up in a second, down in another.
  def ramp(number, index)
    valves = @attempts[index].station.kit.valves.keys
    valve = valves.include?(:low_bleed) ? :low_bleed : valves.first
    place = number % (2 * RAMPS)
    turned = 0.3 * ((place < RAMPS) ? place + 1 : 2 * RAMPS - 1 - place)
    fields = {kind: "turn", valve: valve, to: turned.round(3), over: 1000 / RAMPS}
    fields[:hand] = "on" unless place % RAMPS == RAMPS - 1
    fields.merge(action_id: "load-#{number}", seq: number, seen_ms: 999_999_999)
  end

  def act(number, index)
    return ramp(number, index) if @acts == :drag

    if @fields
      acts = @fields[index]
      return acts[number % acts.size].merge(action_id: "load-#{number}", seq: number, seen_ms: 999_999_999)
    end

    fields =
      case number % 5
      when 4
        {kind: "jot", item: "check_valve_1_apparent", value: number.to_s}
      else
        {kind: "turn", valve: "test_cock_#{number % 5 + 1}", to: (number / 5).even? ? 1.0 : 0.0, speed: "normal"}
      end
    fields.merge(action_id: "load-#{number}", seq: number, seen_ms: 999_999_999)
  end

  def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

  def timed(list, always: false)
    started = now
    yield.tap { list << (now - started) * 1000.0 if always || started >= @counted_from }
  end

  def sign_in(http, person)
    page = http.get("/sign-in")
    raise "sign-in: #{page.code} #{page.body[0, 300]}" unless page["set-cookie"]

    jar = kept({}, page)
    answer =
      post(
        http,
        "/sign-in",
        {login: person.login, password: "x"},
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
