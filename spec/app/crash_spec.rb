# frozen_string_literal: true

require "spec_helper"
require "support/served"
require "support/small_browser"
require "socket"
require "sqlite3"
require "tmpdir"

RSpec.describe "A server killed in the middle of an attempt" do
  def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }

  def start(database, port) =
    Served.start(port, APP_ENV: "production", NURV_DATABASE: database, NURV_WORKER: "0")

  def seed(database, benches: 1)
    script = <<~RUBY
      require "./config/boot"
      users = STORES.users
      owner = users.create(role: "instructor", name: "Ines", login: "ines", password: "correct horse")
      trainee = users.create(role: "trainee", name: "Tobin", login: "tobin", password: "4711")
      rows = STORES.stations
      station = CATALOG.demo_stations.find { |item| item.id == :bottle_rinser }
      row = rows.find(owner, rows.create(owner, station.to_yaml))
      #{benches}.times do
        STORES.attempts.create(station_row: row, instructor: owner, trainee: trainee, mode: "practice", seed: 1)
      end
    RUBY
    system(
      {"APP_ENV" => "production", "NURV_DATABASE" => database},
      RbConfig.ruby,
      "-e",
      script,
      chdir: File.expand_path("../..", __dir__),
      exception: true
    )
  end

  # Acts as fast as they are answered, at one bench, until the server is gone.
  #
  # @param done [Integer] acts that are acknowledged already
  # @param heard [Queue] told of each that is
  # @return [Integer] those that are now
  def work_until_killed(client, attempt, done, heard)
    loop do
      answer = turn(client, attempt, done)
      return done unless answer.code == "200" && answer.body.include?("data-seq=\"#{done + 1}\"")

      done += 1
      heard << done
    end
  rescue SystemCallError, IOError, Timeout::Error
    done
  ensure
    # Nobody waits for what will not come.
    30.times { heard << done }
  end

  def turn(client, attempt, index)
    client.post(
      "/attempts/#{attempt}/actions",
      "kind" => "turn",
      "valve" => "test_cock_#{index % 4 + 1}",
      "to" => (index / 4).even? ? "1.0" : "0.0",
      "speed" => "normal",
      "action_id" => "act-#{index}",
      "seq" => index.to_s,
      "seen_ms" => "0"
    )
  end

  # One more round for each of NURV_KILLS; two where nothing is said.
  it "keeps every act that was acknowledged, whenever it is killed" do
    Dir.mktmpdir do |folder|
      database = File.join(folder, "crash.sqlite3")
      seed(database, benches: 3)
      chance = Random.new(Integer(ENV.fetch("NURV_KILLS_SEED", "7")))
      done = {1 => 0, 2 => 0, 3 => 0}
      Integer(ENV.fetch("NURV_KILLS", "2")).times do |round|
        port = free_port
        pid = start(database, port)
        clients = done.keys.to_h { |id| [id, SmallBrowser.new(port).tap { |item| item.sign_in("tobin", "4711") }] }
        clients.each { |id, client| client.post("/attempts/#{id}/begin", {}) } if round.zero?
        rows = SQLite3::Database.new(database)
        done.each_key do |id|
          written = rows.execute("select seq, action_id from events where attempt_id = ? order by seq", [id])
          # What was written and not answered may be there as well: one act at most.
          expect(written.size).to be_between(done[id], done[id] + 1)
          expect(written).to eq((1..written.size).map { |seq| [seq, "act-#{seq - 1}"] })
          done[id] = written.size
        end
        rows.close
        heard = Queue.new
        workers = clients.map { |id, client| Thread.new { [id, work_until_killed(client, id, done[id], heard)] } }
        chance.rand(1..30).times { heard.pop }
        sleep chance.rand(0.0..0.05)
        Process.kill(:KILL, pid)
        Process.wait(pid)
        pid = nil
        done.merge!(workers.to_h(&:value))
      ensure
        Process.kill(:KILL, pid) if pid
        Process.wait(pid) if pid
      end
      expect(done.values.sum).to be_positive
    end
  end

  it "loses no acknowledged act, and goes on where it stood" do
    Dir.mktmpdir do |folder|
      database = File.join(folder, "crash.sqlite3")
      seed(database)
      port = free_port
      pid = start(database, port)
      client = SmallBrowser.new(port).tap { |browser| browser.sign_in("tobin", "4711") }
      attempt = client.get("/work").body[%r{/attempts/(\d+)/start}, 1]
      client.post("/attempts/#{attempt}/begin", {})
      acknowledged = 0
      12.times do |index|
        answer = turn(client, attempt, index)
        acknowledged += 1 if answer.code == "200" && answer.body.include?("data-seq=\"#{index + 1}\"")
      end
      Process.kill(:KILL, pid)
      Process.wait(pid)
      pid = nil
      expect(acknowledged).to eq(12)

      rows =
        SQLite3::Database.new(database).execute("select count(*) from events where attempt_id = ?", [attempt.to_i])
      expect(rows).to eq([[12]])
      pid = start(database, port)
      page = client.get("/attempts/#{attempt}/bench").body
      expect(page).to include('data-seq="12"').and include("TC1, open").and include("TC4, open")
      # The same server stops whoever tries name after name.
      stranger = SmallBrowser.new(port)
      answers = Array.new(10) { stranger.sign_in_answer("tobin", "0000") }
      expect(answers.first).to eq("422")
      expect(answers).to include("429")
    ensure
      Process.kill(:KILL, pid) if pid
      Process.wait(pid) if pid
    end
  end
end
