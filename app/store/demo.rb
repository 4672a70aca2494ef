# frozen_string_literal: true

module Store
  # The demo: an island water trust, its training room, and eight benches.
  module Demo
    INSTRUCTOR = {role: "instructor", name: "Maren Vosk", login: "maren", password: "press-house"}.freeze
    TRAINEES = [
      {role: "trainee", name: "Tobin Ashe", login: "tobin", password: "4711"},
      {role: "trainee", name: "Ilse Corran", login: "ilse", password: "2096"},
      {role: "trainee", name: "Davi Rusk", login: "davi", password: "5830"}
    ].freeze

    module_function

    # Puts the demo in if the database is empty; doing it again changes nothing.
    def seed
      DB.transaction do
        return if DB[:users].any?

        users = Users.new
        instructor = users.create(**INSTRUCTOR)
        trainees = TRAINEES.map { |person| users.create(**person) }
        stations = Stations.new
        Dir[File.join(Nurv::Catalog::ROOT, "demo/stations/*.yml")].sort.each { |path| stations.create(instructor, File.read(path)) }
        assign(stations.of(instructor), instructor, trainees)
      end
    end

    def assign(rows, instructor, trainees)
      attempts = Attempts.new
      attempts.create(station_row: rows[0], instructor: instructor, trainee: trainees[0], mode: "practice", seed: 1)
      attempts.create(station_row: rows[3], instructor: instructor, trainee: trainees[0], mode: "exam", seed: 7)
      attempts.create(station_row: rows[4], instructor: instructor, trainee: trainees[1], mode: "practice", seed: 2)
      example = attempts.create(station_row: rows[7], instructor: instructor, trainee: trainees[2], mode: "exam", seed: 5)
      play(example, attempts)
    end

    # A finished exam to look at: an expert's log with a report that blames the relief valve.
    def play(attempt, attempts)
      truth = Nurv::Scenarios::Truth.of(attempt.variant, attempt.station.procedures.first)
      attempt = attempts.begin(attempt, (Time.now.to_f * 1000).round)
      replay = Nurv::Bench::Replay.new(attempt.variant, Nurv::Bench::Log.new)
      span = replay.first
      truth.run.log.each_with_index do |action, index|
        action = Nurv::Bench::Action.new({**action.to_h, value: "relief_valve:stuck"}) if action.name(:field) == :diagnosis
        span = span.after(action)
        attempts.append(attempt, action, index, Nurv::Bench::Snapshot.dump(span.state))
      end
    end
  end
end
