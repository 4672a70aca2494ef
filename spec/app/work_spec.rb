# frozen_string_literal: true

require "support/web"
require "open3"
require "tmpdir"

RSpec.describe Work::Runner, :web do
  include Requests

  let!(:instructor) { make_instructor }
  let!(:trainee) { make_trainee }
  let(:jobs) { stores.jobs }

  # The second process itself, on this database.
  def start_worker
    environment = {
      "APP_ENV" => "test",
      "NURV_DATABASE" => SETTINGS.database,
      "SESSION_SECRET" => SETTINGS.session_secret,
      "NURV_SERVER_PID" => Process.pid.to_s
    }
    Process.spawn(
      environment,
      RbConfig.ruby,
      "config/worker.rb",
      chdir: File.expand_path("../..", __dir__),
      out: File::NULL,
      err: File::NULL
    )
  end

  def stop_worker(pid, signal = :TERM)
    Process.kill(signal, pid)
    Process.wait(pid)
  rescue Errno::ESRCH, Errno::ECHILD
    nil
  end

  def wait_until(seconds = 240)
    deadline = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
    until (found = yield)
      raise "waited #{seconds} s" if Process.clock_gettime(Process::CLOCK_MONOTONIC) > deadline

      sleep 0.1
    end
    found
  end

  # Requests without the work beside them.
  def app = Web::App

  it "grades what is handed in, in a process of its own, while the page says how far it is" do
    attempt = begin_attempt(instructor, trainee, mode: "practice")
    sign_in("teo", "1234")
    send_form "/attempts/#{attempt.id}/actions", kind: "submit", action_id: "s", seq: 0, seen_ms: 0
    expect(get("/attempts/#{attempt.id}/result").body).to include("work-bar").and include("Being graded")
    expect(send_form("/grading", ids: attempt.id, of: 1).headers["HX-Refresh"]).to be_nil
    expect(DB[:grades].count).to eq(0)
    worker = start_worker
    wait_until { DB[:grades].any? }
    expect(send_form("/grading", ids: attempt.id, of: 1).headers["HX-Refresh"]).to eq("true")
    expect(get("/attempts/#{attempt.id}/result").body).to include('class="score"')
  ensure
    stop_worker(worker) if worker
  end

  it "makes stations once, though it is killed in the middle, and tells who asked how far it is" do
    sign_in("ines")
    send_form "/stations/generate", procedure: "r1", difficulty: "medium", count: "3", seed: "5"
    path = URI(last_response["location"]).path
    expect(get(path).body).to include("Waits its turn")
    worker = start_worker
    wait_until { jobs.find(path[/\d+/].to_i).done.positive? }
    stop_worker(worker, :KILL)
    expect(stores.stations.of(instructor)).to eq([])
    expect(get("#{path}/bar").body).to match(/[12] of 3/)
    worker = start_worker
    wait_until { jobs.find(path[/\d+/].to_i).over? }
    expect(get("#{path}/bar").headers["HX-Redirect"]).to eq(path)
    expect(get(path)["location"]).to include("/stations?q=medium")
    follow_redirect!
    expect(last_response.body).to include("3 stations made from seed 5")
    expect(stores.stations.of(instructor).size).to eq(3)
  ensure
    stop_worker(worker) if worker
  end

  it "ends when the server that started it is gone" do
    server = Process.spawn(RbConfig.ruby, "-e", "sleep")
    environment = {
      "APP_ENV" => "test",
      "NURV_DATABASE" => SETTINGS.database,
      "SESSION_SECRET" => SETTINGS.session_secret,
      "NURV_SERVER_PID" => server.to_s
    }
    worker =
      Process.spawn(
        environment,
        RbConfig.ruby,
        "config/worker.rb",
        chdir: File.expand_path("../..", __dir__),
        out: File::NULL,
        err: File::NULL
      )
    # It is not our child's child: to it, its server is gone already.
    expect(wait_until { Process.wait(worker, Process::WNOHANG) }).to eq(worker)
  ensure
    Process.kill(:KILL, server)
    Process.wait(server)
  end

  it "does each piece once, gives up after three tries, and puts nothing on the list twice" do
    one = jobs.push("grade", subject: 7, attempt_id: 7)
    expect(jobs.push("grade", subject: 7, attempt_id: 7)).to eq(one)
    expect(jobs.push("grade", subject: 8, attempt_id: 8)).not_to eq(one)
    3.times do
      expect(jobs.take.id).to eq(one)
      jobs.reopen
    end
    expect(jobs.take.id).not_to eq(one)
    jobs.reopen
    expect(jobs.find(one).problem).to include("three tries")
    described_class.new(stores, keeper).work_off
    expect(jobs).to be_idle
  end

  it "says what went wrong to who asked, and to nobody else" do
    sign_in("ines")
    send_form "/classes/import",
      archive:
        Rack::Test::UploadedFile.new(
          StringIO.new("no archive"),
          "application/gzip",
          true,
          original_filename: "x.tar.gz"
        )
    path = URI(last_response["location"]).path
    described_class.new(stores, keeper).work_off
    expect(get(path).body).to include("not a class exported by Nurv")
    make_instructor("otto")
    sign_in("otto")
    expect(get(path).status).to eq(404)
    expect(Dir[File.join(Work::Files.folder, "*.tar.gz")].size).to eq(1)
    Clock.source = SetClock.new(Clock.wall_ms + Store::Jobs::KEPT_MS + 1_000)
    described_class.new(stores, keeper).tick
    expect(Dir[File.join(Work::Files.folder, "*.tar.gz")]).to eq([])
    expect(jobs.find(path[/\d+/].to_i)).to be_nil
  end

  it "brings a class in with people, exams and logs, and gives it a page" do
    course = make_class(instructor, trainee)
    exam = make_exam(instructor, course, :bottle_rinser)
    stores.exams.open(exam, [trainee])
    demo.play(stores.attempts.of_exam(exam).first)
    packed = stores.archive.pack(course)
    sign_in("ines")
    send_form "/classes/import",
      archive:
        Rack::Test::UploadedFile.new(
          StringIO.new(packed),
          "application/gzip",
          true,
          original_filename: "x.tar.gz"
        )
    path = URI(last_response["location"]).path
    described_class.new(stores, keeper).work_off
    get(path)
    expect(last_response["location"]).to match(%r{/classes/\d+\z})
    follow_redirect!
    expect(last_response.body).to include("is imported").and include("PINs are hidden.")
  end

  it "keeps acts from waiting while a roster of the largest size is read" do
    course = make_class(instructor)
    attempt = begin_attempt(instructor, trainee)
    entries = Array.new(100) { |number| {name: "Person #{number}", pin: nil} }
    longest = 0.0
    # The PINs are hashed with the real cost, which takes seconds; the database is held for what is written only.
    slow = ->(pin) { sleep(0.05) && BCrypt::Password.create(pin, cost: 4).to_s }
    Store::Users.singleton_class.send(:alias_method, :quick_digest, :digest)
    Store::Users.define_singleton_method(:digest, &slow)
    roster = Thread.new { stores.classes.enrol(course, entries) }
    8.times do |seq|
      began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      keeper.of(attempt).act(
        attempt,
        {kind: "jot", item: "check_valve_1_apparent", value: "8"},
        id: "a#{seq}",
        known_seq: seq,
        seen_ms: 0,
        wall_ms: wall_ms
      )
      longest = [longest, Process.clock_gettime(Process::CLOCK_MONOTONIC) - began].max
      sleep 0.1
    end
    expect(roster.value).to eq(100)
    # It takes five seconds in all; an act that waited for it would take as long.
    expect(longest).to be < 2.5
  ensure
    Store::Users.singleton_class.send(:alias_method, :digest, :quick_digest)
  end
end

RSpec.describe "A database from before" do
  # One of the version before sessions and work, with somebody in it whose time was written without a zone.
  def old_database(folder)
    File.join(folder, "nurv.sqlite3").tap { |path| run(<<~RUBY, "TZ" => "UTC") }
      database = Database.connect(#{path.inspect})
      Sequel::Migrator.run(database, Database::MIGRATIONS, target: 3)
      database.run(<<~SQL)
        insert into users (role, name, login, password_digest, created_at)
        values ('instructor', 'I', 'i', 'x', '2026-07-01 10:00:00.000000')
      SQL
    RUBY
  end

  def run(script, environment)
    needed = "require './config/gems'; require './config/database'\n"
    output, status =
      Open3.capture2e(environment, RbConfig.ruby, "-e", needed + script, chdir: File.expand_path("../..", __dir__))
    expect(status).to be_success, output
    output
  end

  it "has its times brought to UTC once, from the zone of this machine" do
    Dir.mktmpdir do |folder|
      path = old_database(folder)
      output = run(<<~RUBY, "TZ" => "XST-12")
        database = Database.connect(#{path.inspect})
        2.times { Database.migrate(database) }
        puts database[:users].get(:created_at).to_time.to_i
      RUBY
      expect(output.to_i).to eq(Time.utc(2026, 6, 30, 22).to_i)
    end
  end

  it "is changed by a server only after a copy was made beside it" do
    Dir.mktmpdir do |folder|
      path = old_database(folder)
      run("require './config/boot'", "APP_ENV" => "production", "NURV_DATABASE" => nil, "NURV_HOME" => folder)
      copy = SQLite3::Database.new(Dir["#{path}.before-update-*"].first)
      expect(copy.execute("select version from schema_info")).to eq([[3]])
      expect(copy.execute("select login from users")).to eq([["i"]])
    end
  end
end

RSpec.describe "Times" do
  it "are the same whichever zone the machine is in when they are written and read" do
    Dir.mktmpdir do |folder|
      run =
        lambda do |zone, script|
          environment = {"TZ" => zone, "APP_ENV" => "test", "NURV_DATABASE" => File.join(folder, "zone.sqlite3")}
          output, status =
            Open3.capture2e(
              environment,
              RbConfig.ruby,
              "-e",
              "require './config/boot'; #{script}",
              chdir: File.expand_path("../..", __dir__)
            )
          expect(status).to be_success, output
          output.strip
        end
      script =
        "Clock.source = -> { 1_800_000_000_000 }; " \
        "STORES.users.create(role: 'instructor', name: 'I', login: 'i', password: 'correct horse')"
      run.call("XST-12", script)
      %w[YST3:30 UTC XST-12].each do |zone|
        expect(run.call(zone, "puts DB[:users].get(:created_at).to_time.to_i")).to eq("1800000000")
      end
    end
  end
end

RSpec.describe Store::Health, :web do
  it "says whether the server can work, and 503 where it cannot" do
    expect(described_class.new(stores).to_h).to eq(
      ok: true,
      database_writable: true,
      disk_has_room: true,
      migrations_current: true,
      waiting_work: 0
    )
    stores.jobs.push("grade", subject: 1, attempt_id: 1)
    expect(described_class.new(stores).to_h[:waiting_work]).to eq(1)
    DB[:schema_info].update(version: Sequel[:version] - 1)
    answer = Rack::MockRequest.new(Web::App).get("/health")
    expect([answer.status, JSON.parse(answer.body)]).to eq(
      [
        503,
        {
          "ok" => false,
          "database_writable" => true,
          "disk_has_room" => true,
          "migrations_current" => false,
          "waiting_work" => 1
        }
      ]
    )
  ensure
    DB[:schema_info].update(version: Sequel[:version] + 1)
  end
end
