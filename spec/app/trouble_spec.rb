# frozen_string_literal: true

require "support/web"
require_relative "../../config/temporary_files"

# A disk that is full, a database that is locked, a row that is damaged: each costs no more than it must, and says so.
RSpec.describe "Trouble with what is saved", :web do
  include Requests

  let(:instructor) { make_instructor }
  let(:trainee) { make_trainee }
  let(:course) { make_class(instructor, trainee) }

  def app = Web::App

  # As on a disk without room: everything can be read and nothing written, by the connection that this thread holds.
  def without_writing
    DB.synchronize do |connection|
      connection.execute("PRAGMA query_only = ON")
      yield
    ensure
      connection.execute("PRAGMA query_only = OFF")
    end
  end

  # Another process holds the database for longer than anybody waits.
  def locked
    other = SQLite3::Database.new(SETTINGS.database)
    other.execute("BEGIN IMMEDIATE")
    DB.synchronize do |connection|
      connection.busy_handler_timeout = 20
      yield
    ensure
      connection.busy_handler_timeout = 5_000
    end
  ensure
    other.execute("ROLLBACK")
    other.close
  end

  def hand_in(attempt) =
    keeper.of(attempt).act(attempt, {kind: "submit"}, id: "s", known_seq: 0, seen_ms: 0, wall_ms: wall_ms)

  def write_down(attempt)
    data = {kind: "jot", item: "cv1", value: "8.0"}
    keeper.of(attempt).act(attempt, data, id: "j", known_seq: 0, seen_ms: 0, wall_ms: wall_ms)
  end

  it "writes nothing for whoever only looks, on any page of instructor and trainee" do
    exam = make_exam(instructor, course, :bottle_rinser)
    stores.exams.open(exam, [trainee])
    attempt = stores.attempts.begin(stores.attempts.of_exam(exam).first, wall_ms)
    practice = begin_attempt(instructor, trainee, mode: "practice")
    hand_in(practice)
    DB[:jobs].delete
    sign_in("ines")
    paths =
      %W[
        /today /classes /classes/#{course.id} /classes/#{course.id}/cards.pdf /classes/#{course.id}/gradebook
        /classes/#{course.id}/practice /stations
        /stations/#{attempt.station_id} /exams/#{exam.id} /exams/#{exam.id}/room
        /exams/#{exam.id}/benches /exams/#{exam.id}/publish /review /settings /settings/audit /proctor /practice-room
        /attempts/#{practice.id}/result /attempts/#{attempt.id}/watch /classes/#{course.id}/skills /lab /help
      ]
    without_writing { paths.each { |path| expect([path, get(path).status]).to eq([path, 200]) } }
    sign_in("teo", "1234")
    paths = %W[/work /attempts/#{attempt.id}/bench /attempts/#{attempt.id}/frames?seq=0 /help /pin]
    without_writing { paths.each { |path| expect([path, get(path).status]).to eq([path, 200]) } }
    expect(DB[:jobs].count).to eq(0)
  end

  it "is not well where nothing can be written, and well again as soon as it can" do
    expect(JSON.parse(get("/health").body)).to include(
      "ok" => true,
      "database_writable" => true,
      "disk_has_room" => true
    )
    without_writing { expect(JSON.parse(get("/health").body)).to include("ok" => false, "database_writable" => false) }
    expect(last_response.status).to eq(503)
    allow(File).to receive(:open).and_call_original
    allow(File).to receive(:open).with(/\.health-/, "wb").and_raise(Errno::ENOSPC)
    expect(JSON.parse(get("/health").body)).to include("ok" => false, "disk_has_room" => false)
  end

  it "shows a form again with what was typed, and not what is secret, where it cannot be saved" do
    stores.users.create(role: "instructor", name: "Ines", login: "ines", password: "correct horse", admin: true)
    sign_in("ines")
    locked { send_form "/classes", name: "Autumn & winter \"testers\"" }
    expect(last_response.status).to eq(503)
    expect(html).to include("The server was busy and did not save this.", "Autumn &amp; winter &quot;testers&quot;")
    without_writing { send_form "/settings/accounts", name: "Ola Berg", login: "ola", password: "long and secret" }
    expect(html).to include("Ola Berg")
    expect(html).not_to include("long and secret")
    send_form "/classes", name: "Autumn & winter \"testers\""
    expect(last_response.status).to eq(302)
  end

  it "tells a tester at the bench that an act was not saved, and the bench is as before" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    act = -> {
      post "/attempts/#{attempt.id}/actions",
        {kind: "jot", item: "cv1", value: "8.0", action_id: "w-1", seq: 0, seen_ms: 0},
        "HTTP_X_CSRF_TOKEN" => @token,
        "HTTP_HX_REQUEST" => "true"
    }
    locked { act.call }
    expect([last_response.status, last_response.body]).to eq([503, Store::Trouble::SENTENCES.fetch(:busy)])
    expect(stores.attempts.find(attempt.id).last_seq).to eq(0)
    act.call
    expect([last_response.status, stores.attempts.find(attempt.id).last_seq]).to eq([200, 1])
  end

  describe "a grade" do
    let(:clock) { SetClock.new.tap { |set| Clock.source = set } }
    let(:attempt) { begin_attempt(instructor, trainee).tap { |one| hand_in(one) } }
    let(:runner) { Work::Runner.new(stores, keeper) }

    it "that meets a locked database is tried again, each time later, and comes" do
      clock
      attempt
      busy = Sequel.convert_exception_class(SQLite3::BusyException.new("database is locked"), Sequel::DatabaseError)
      calls = 0
      allow(stores.grades).to receive(:computed).and_wrap_original do |way, *given|
        ((calls += 1) > 3) ? way.call(*given) : raise(busy)
      end
      waits = []
      3.times do
        runner.work_off
        job = DB[:jobs].first(kind: "grade")
        waits << job[:from_ms] - clock.now_ms
        expect(job[:state]).to eq("waiting")
        clock.let_go_by(waits.last)
      end
      expect(waits).to eq(waits.sort).and satisfy { |list| list.uniq.size > 1 }
      runner.work_off
      expect(stores.grades.missing([stores.attempts.find(attempt.id)])).to be_empty
    end

    it "whose process died without a word is taken up by the next one" do
      clock
      attempt
      job = stores.jobs.take
      runner.tick
      expect(stores.jobs.find(job.id).state).to eq("working")
      clock.let_go_by(Store::Jobs::LEASE_MS + 1)
      runner.tick
      expect(stores.jobs.find(job.id).state).to eq("done")
    end

    it "that cannot be worked out says so, with a button that tries again" do
      allow(Nurv::Grading::Grader).to receive(:grade).and_raise(Nurv::Error, "the ledger does not balance")
      attempt
      runner.work_off
      sign_in("ines")
      get("/attempts/#{attempt.id}/result")
      expect(html).to include("Cannot be graded", "the ledger does not balance", "Try again")
      RSpec::Mocks.space.proxy_for(Nurv::Grading::Grader).reset
      send_form "/attempts/#{attempt.id}/grade-once-more"
      runner.work_off
      get("/attempts/#{attempt.id}/result")
      expect(html).not_to include("Cannot be graded")
    end
  end

  describe "a damaged row" do
    it "in a running exam is one damaged tile of the room" do
      others = %w[una vik].map { |login| make_trainee(login) }
      others.each { |one| stores.classes.add(course, one) }
      exam = make_exam(instructor, course, :bottle_rinser)
      stores.exams.open(exam, [trainee, *others])
      benches = stores.attempts.of_exam(exam).map { |one| stores.attempts.begin(one, wall_ms) }
      benches.each { |one| write_down(one) }
      DB[:snapshots].where(attempt_id: benches[0].id).update(progress: '{"times": 5')
      DB[:attempts].where(id: benches[1].id).update(station_body: "title: [")
      sign_in("ines")
      get("/exams/#{exam.id}/room")
      expect(last_response.status).to eq(200)
      expect(html.scan("cannot be read in full").size).to eq(2)
      expect(html).to include("Teo", "Una", "Vik")
    end

    it "of a log says so at its bench, and the next bench works" do
      attempt = begin_attempt(instructor, trainee, mode: "practice")
      write_down(attempt)
      DB[:snapshots].delete
      DB[:events].where(attempt_id: attempt.id).update(body: "{")
      keeper.forget_all
      other = begin_attempt(instructor, trainee, mode: "practice")
      sign_in("teo", "1234")
      expect(get("/attempts/#{attempt.id}/bench").status).to eq(410)
      expect(html).to include("damaged")
      expect(get("/attempts/#{other.id}/bench").status).to eq(200)
    end
  end

  it "clears away what a killed server left of its uploads, and nothing of one that lives" do
    home = Dir.mktmpdir
    before = ENV["TMPDIR"]
    gone = Process.spawn("true").tap { |pid| Process.wait(pid) }
    [gone, Process.ppid].each { |pid| FileUtils.mkdir_p(File.join(home, "uploads", pid.to_s)) }
    TemporaryFiles.prepare(home)
    expect(Dir.children(File.join(home, "uploads"))).to match_array([Process.ppid, Process.pid].map(&:to_s))
    expect(Dir.tmpdir).to start_with(home)
    TemporaryFiles.remove(home)
    expect(Dir.children(File.join(home, "uploads"))).to eq([Process.ppid.to_s])
  ensure
    ENV["TMPDIR"] = before
    FileUtils.rm_rf(home)
  end
end
