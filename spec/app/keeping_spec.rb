# frozen_string_literal: true

require "support/web"
require "open3"
require "tmpdir"

RSpec.describe "Keeping data" do
  def script(name, database, *arguments)
    Open3.capture2e({"NURV_DATABASE" => database, "APP_ENV" => "test"}, RbConfig.ruby, "bin/#{name}", *arguments)
  end

  # A database of its own with so many acts in it.
  def with_database(acts)
    Dir.mktmpdir do |folder|
      path = File.join(folder, "nurv.sqlite3")
      database = Database.connect(path)
      Database.migrate(database)
      person =
        database[:users].insert(role: "instructor", name: "I", login: "i", password_digest: "x", created_at: Time.now)
      attempt =
        database[:attempts].insert(
          instructor_id: person,
          trainee_id: person,
          station_body: "x",
          seed: 1,
          mode: "practice",
          created_at: Time.now
        )
      add = ->(number) do
        database[:events].insert(
          attempt_id: attempt,
          seq: number,
          action_id: "a#{number}",
          at_ms: number,
          body: "{}",
          recorded_at: Time.now
        )
      end
      acts.times { |number| add.call(number + 1) }
      yield path, database, add
      database.disconnect
    end
  end

  it "backs up while it is written to, and restores to exactly that" do
    with_database(5) do |path, database, add|
      copy = "#{path}.copy"
      writer = Thread.new { 20.times { |number| add.call(number + 6) && sleep(0.01) } }
      output, status = script("backup", path, copy)
      writer.join
      expect(status).to be_success, output
      expect(output).to include("sound")
      kept = SQLite3::Database.new(copy).execute("select count(*) from events")[0][0]
      expect(kept).to be_between(5, 25)
      expect(script("backup", path, copy)[0]).to include("there already")
      output, status = script("restore", path, copy)
      expect(status).to be_success, output
      expect(database[:events].count).to eq(kept)
      expect(Dir["#{path}.before-*"].size).to eq(1)
    end
  end

  it "restores nothing from a file that is damaged or another's, and says so" do
    with_database(3) do |path, database, _|
      Dir.mktmpdir do |folder|
        broken = File.join(folder, "broken").tap { |file| File.binwrite(file, File.binread(path)[0, 5_000]) }
        other = File.join(folder, "other").tap { |file| SQLite3::Database.new(file).execute("create table x (y)") }
        [broken, other, File.join(folder, "missing")].each do |file|
          output, status = script("restore", path, file)
          expect(status).not_to be_success
          expect(output).to match(/nothing was changed|There is no/)
        end
      end
      expect(database[:events].count).to eq(3)
    end
  end

  it "brings who was here before classes over into one, once" do
    Dir.mktmpdir do |folder|
      Sequel.extension :migration
      database = Database.connect(File.join(folder, "old.sqlite3"))
      Sequel::Migrator.run(database, Database::MIGRATIONS, target: 1)
      people =
        %w[instructor trainee trainee].each_with_index.map do |role, index|
          database[:users].insert(
            role: role,
            name: "P#{index}",
            login: "p#{index}",
            password_digest: "x",
            created_at: Time.now
          )
        end
      people
        .drop(1)
        .each do |trainee|
          database[:attempts].insert(
            instructor_id: people[0],
            trainee_id: trainee,
            station_body: "x",
            seed: 1,
            mode: "exam",
            created_at: Time.now
          )
        end
      2.times { Database.migrate(database) }
      expect(database[:classes].select_map(:name)).to eq(["My trainees"])
      expect(database[:members].select_order_map(:user_id)).to eq(people.drop(1))
      expect(database[:attempts].select_map(:class_id).uniq.size).to eq(1)
      expect(database[:users].where(admin: true).select_map(:id)).to eq([people[0]])
      database.disconnect
    end
  end

  it "reads its settings once and says everything that is wrong with them" do
    Dir.mktmpdir do |folder|
      good = {"NURV_DATABASE" => File.join(folder, "x.sqlite3"), "PORT" => "8080"}
      settings = Settings.new(good)
      expect([settings.port, settings.threads, settings.production?]).to eq([8080, 5, false])
      expect(settings.session_secret.length).to be >= 64
      expect(Settings.new(good).session_secret).to eq(settings.session_secret)
      expect {
        Settings.new({**good, "PORT" => "door", "PUMA_THREADS" => "0", "SESSION_SECRET" => "short"})
      }.to raise_error(Settings::Wrong, /PORT.*PUMA_THREADS.*SESSION_SECRET/m)
    end
  end

  it "makes who guesses wait longer and longer, and locks nobody out", :web do
    tries = stores.tries
    guess = ->(wall_ms, **keys) do
      tries.try({here: "teo/10.0.0.9", name: "teo", address: "10.0.0.9", **keys}, wall_ms: wall_ms)
    end
    expect(Array.new(5) { guess.call(0) }).to all(eq(0))
    expect([guess.call(0), guess.call(1_000), guess.call(1_500), guess.call(3_000)]).to eq([1, 0, 2, 0])
    # An hour of guessing from one place, a try whenever one may: a PIN of four digits would take weeks.
    at_ms = 3_000
    allowed = 0
    while at_ms < 3_600_000
      wait_s = guess.call(at_ms)
      allowed += 1 if wait_s.zero?
      at_ms += [wait_s * 1000, 1].max
    end
    expect(allowed).to be < 30
    # From many places its owner's own wait is short, and none at all on a device they have used before.
    expect(guess.call(at_ms, here: "teo/10.0.0.7", address: "10.0.0.7")).to be <= 20
    expect(tries.try({here: "teo/10.0.0.5", address: "10.0.0.5"}, wall_ms: at_ms)).to eq(0)
    tries.right({here: "teo/10.0.0.9"})
    expect(tries.try({here: "teo/10.0.0.9"}, wall_ms: at_ms)).to eq(0)
  end

  it "keeps passwords so that nobody can read them, and takes as long for a name that is not there", :web do
    users = stores.users
    users.create(role: "instructor", name: "Ines", login: "Ines", password: "correct horse")
    digest = DB[:users].get(:password_digest)
    expect(digest).to start_with("$2a$").and satisfy { |text| !text.include?("correct") }
    expect(users.authenticate(" INES ", "correct horse").name).to eq("Ines")
    expect(
      [
        users.authenticate("ines", "wrong"),
        users.authenticate("nobody", "correct horse"),
        users.authenticate(nil, nil)
      ]
    ).to eq([nil, nil, nil])
    expect { users.create(role: "trainee", name: "X", login: "ines", password: "1234") }.to raise_error(
      Sequel::UniqueConstraintViolation
    )
  end
end

RSpec.describe Web::RoomView, :web do
  def wall_ms = Clock.wall_ms

  let(:instructor) { make_instructor }
  let(:trainees) { %w[teo una vic].map { |login| make_trainee(login) } }
  let(:exam) do
    course = make_class(instructor, *trainees)
    make_exam(instructor, course, :bottle_rinser).tap { |exam| stores.exams.open(exam, trainees) }
  end
  let(:attempts) { stores.attempts }

  def tiles(at_ms = wall_ms) =
    described_class.new(attempts.room_of(exam), at_ms).tiles.to_h { |tile| [tile.name, tile] }

  it "says who has not begun, who works, how far they are and what they did last" do
    teo = attempts.of_exam(exam).find { |attempt| attempt.trainee_id == trainees[0].id }
    demo.play(teo, share: 0.5)
    view = tiles
    expect(view["Una"]).to have_attributes(state: "assigned", step: "not begun", connected: false)
    expect(view["Teo"]).to have_attributes(state: "started", alarm: nil, stuck: false)
    expect(view["Teo"].share).to be_between(0.3, 0.9)
    expect(view["Teo"].last).to match(/\A\d:\d\d \w/)
    expect(view["Teo"].left_ms).to be_between(40 * 60_000, 45 * 60_000)
    expect(described_class.new(attempts.room_of(exam), wall_ms).numbers).to include(
      "at the bench" => 1,
      "benches in all" => 3
    )
  end

  it "tells who is connected, who is stuck, and a harmful act while it is fresh" do
    una = attempts.of_exam(exam).find { |attempt| attempt.trainee_id == trainees[1].id }
    una = attempts.begin(una, wall_ms)
    keeper.of(una).act(
      una,
      {kind: "turn", valve: "shutoff_valve_2", to: 0.0},
      id: "x",
      known_seq: 0,
      seen_ms: 0,
      wall_ms: wall_ms
    )
    attempts.saw(attempts.find(una.id), wall_ms + 4_000, 0.3)
    expect(tiles["Una"]).to have_attributes(
      connected: true,
      alarm: "Water shut off without asking",
      harmful: 1,
      needle_psid: be_within(0.06).of(0.3),
      stuck: false
    )
    later = tiles(wall_ms + 200_000)["Una"]
    expect(later).to have_attributes(connected: false, alarm: nil, harmful: 1, stuck: true)
  end

  it "follows a bench through a restart by what is kept with it" do
    vic = attempts.of_exam(exam).find { |attempt| attempt.trainee_id == trainees[2].id }
    demo.play(vic, share: 0.2)
    before = tiles["Vic"].step
    keeper.forget_all
    vic = attempts.find(vic.id)
    keeper.of(vic).intervene(
      vic,
      {kind: "jot", item: "check_valve_1_apparent", value: "8"},
      id: "after",
      wall_ms: wall_ms
    )
    expect(tiles["Vic"].step).to eq(before)
    expect(tiles["Vic"].last).to include("Jotted")
  end
end
