# frozen_string_literal: true

module Benches
  # The demo: an island water trust, its training room, a class with an exam behind it and one running.
  class Demo
    INSTRUCTOR = {
      role: "instructor",
      name: "Maren Vosk",
      login: "maren",
      password: "press-house",
      admin: true
    }.freeze
    TRAINEES = [
      ["Tobin Ashe", "tobin", "4711"],
      ["Ilse Corran", "ilse", "2096"],
      ["Davi Rusk", "davi", "5830"],
      ["Hesper Lyle", "hesper", "6142"],
      ["Corin Vance", "corin", "3377"],
      ["Mabry Toll", "mabry", "8250"],
      ["Anwen Goss", "anwen", "1964"],
      ["Perrin Dale", "perrin", "7403"]
    ].freeze
    # What those in the mock exam did otherwise than a correct tester.
    SLIPS = [
      ->(acts) { acts },
      ->(acts) { acts.reject { |act| act[:topic] == "water_on" } },
      ->(acts) { acts.map { |act| (act[:field] == "diagnosis") ? act.merge(value: "relief_valve:stuck") : act } },
      ->(acts) do
        acts
          .reject { |act| act[:kind] == "watch" && act[:at] == "relief_port" }
          .map do |act|
            (act[:valve] == "shutoff_valve_2" && act[:to].to_f.positive?) ? act.merge(speed: "fast") : act
          end
      end,
      ->(acts) { acts.reject { |act| act[:field] == "signature" || act[:at] == "upstream_piping" } },
      ->(acts) { acts.reject { |act| act[:topic] == "shutdown" } }
    ].freeze

    # @param stores [Store::Cabinet]
    # @param benches [Keeper]
    def initialize(stores, benches)
      @stores = stores
      @benches = benches
    end

    # Puts the demo in if the database is empty; doing it again changes nothing.
    def seed
      return if @stores.users.any?

      @stores.database.transaction do
        users = @stores.users
        @maren = users.create(**INSTRUCTOR)
        users.prefer(@maren, units: "psi", time_zone: "Atlantic/Azores")
        @trainees =
          TRAINEES.map do |name, login, pin|
            users.create(role: "trainee", name: name, login: login, password: pin, card_pin: pin)
          end
        stations = @stores.stations
        Nurv::Catalog.demo_files.each { |path| stations.create(@maren, File.read(path)) }
        @rows = stations.of(@maren).to_h { |row| [row.station.id, row] }
        @course = @stores.classes.create(@maren, "Gull Point testers, autumn")
        @trainees.each { |trainee| @stores.classes.add(@course, trainee) }
        @stores.classes.let_practise(@course, @stores.catalog.procedures.keys)
        practice
        mock_exam
        running_exam
      end
    end

    # An attempt worked as far as a share of what a correct tester does, with a slip.
    #
    # @param slip [Proc] from acts to acts, as hashes
    # @param share [Float] 0..1
    def play(attempt, slip: SLIPS.first, share: 1.0)
      attempts = @stores.attempts
      log = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first).run.log
      acts = slip.call(log.map(&:to_h))
      acts = acts.first((acts.size * share).ceil)
      now = Clock.wall_ms
      attempt = attempts.begin(attempt, now)
      @benches.of(attempt).do_again(attempt, acts.map { |act| Nurv::Bench::Action.new(act) })
      @stores
        .database[:attempts]
        .where(id: attempt.id)
        .update(anchor_wall_ms: now - acts.last[:at_ms] - 4_000, anchor_sim_ms: 0)
    end

    private

    def practice
      attempts = @stores.attempts
      give = ->(trainee, station, mode, seed) do
        attempts.create(
          station_row: @rows.fetch(station),
          instructor: @maren,
          trainee: @trainees[trainee],
          mode: mode,
          seed: seed,
          course: @course
        )
      end
      [
        [0, :bottle_rinser, "practice", 1],
        [0, :rp_mend, "practice", 3],
        [1, :laundry, "practice", 2],
        [1, :fire_riser, "practice", 4],
        [1, :pvb_pair, "practice", 5]
      ].each { |values| give.call(*values) }
      give.call(4, :rp_tap, "proctor", 1)
    end

    def mock_exam
      exam = exam("Mock exam", %i[ferry_quay boat_yard])
      @stores.attempts
        .of_exam(exam)
        .each do |attempt|
          person = @trainees.index { |trainee| trainee.id == attempt.trainee_id }
          play(attempt, slip: SLIPS[(person + attempt.position) % SLIPS.size])
        end
      @benches.close(exam, Clock.wall_ms)
      @stores
        .database[:attempts]
        .where(exam_id: exam.id, position: 0)
        .update(status: Store::Status::PUBLISHED, published_at: Clock.now)
    end

    def running_exam
      exam = exam("Autumn certification", %i[rp_drawn dc_masked])
      # The first two have not begun, since practice is shut for who sits in an exam.
      @stores.attempts
        .of_exam(exam)
        .select { |attempt| attempt.position.zero? }
        .drop(2)
        .each_with_index do |attempt, index|
          slip = (index == 3) ? SLIPS.last : SLIPS.first
          play(attempt, slip: slip, share: [0.35, 0.62, 0.2, 0.5, 0.8, 1.0][index])
        end
    end

    def exam(title, stations)
      exams = @stores.exams
      policies = @stores.policies
      list =
        stations.map do |id|
          {station_id: @rows.fetch(id).id, title: @rows.fetch(id).title, body: @rows.fetch(id).body, pool: nil}
        end
      exam =
        exams.create(
          @maren,
          @course,
          title: title,
          policy: policies.usual(@maren),
          stations: list,
          shuffled: false,
          seed: 11
        )
      exams.open(exam, @trainees)
      exams.find(@maren, exam.id)
    end
  end
end
