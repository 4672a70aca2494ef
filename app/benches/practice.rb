# frozen_string_literal: true

module Benches
  # Benches that trainees begin by themselves, at stations drawn for them and for nobody else.
  class Practice
    # What is wished for. procedure [Nurv::Procedures::Procedure]; wrong [Symbol] of WRONG; fault
    # [Nurv::Equipment::Fault, nil] where one is chosen; difficulty [Symbol]; swings, preliminaries [Boolean]
    Wish =
      Struct.new(:procedure, :wrong, :fault, :difficulty, :swings, :preliminaries, keyword_init: true)
    # What may be wrong there.
    WRONG = %i[unknown nothing chosen].freeze
    # Seeds of exams are lower, so that practice never draws one of theirs.
    SEEDS = 1_000_000_000..2_000_000_000
    SWING_PSI = 0.3
    # A drawn station says what it was drawn by.
    DRAWN = /\A(?<procedure>\w+)-(?<difficulty>easy|medium|hard)-(?<seed>\d+)-\d+\z/
    # @param stores [Store::Cabinet]
    # @param keeper [Keeper]
    def initialize(stores, keeper)
      @stores = stores
      @keeper = keeper
    end

    # @param trainee [Store::Users::User]
    # @param course [Store::Classes::Course]
    # @param wish [Wish]
    # @return [Store::Attempt] begun
    def begin(trainee, course, wish, wall_ms)
      station = drawn(wish, catalog_of(course))
      Drawn.new(@stores, @keeper).put(station, trainee, course, wall_ms) do |attempt|
        wish.preliminaries ? [] : done_before(attempt)
      end
    end

    # Another like one that was practised, or a harder one.
    #
    # @param attempt [Store::Attempt] practised and handed in
    # @param harder [Boolean]
    # @return [Store::Attempt] begun
    def go_on(attempt, harder, wall_ms)
      found = DRAWN.match(attempt.station.id.to_s)
      # One of an instructor's own stations has other numbers by another seed.
      return again(attempt, wall_ms, seed: Random.rand(1..999_999)) unless found || harder

      all = Nurv::Expert::Generator::DIFFICULTIES.keys
      step = all.index(found ? found[:difficulty].to_sym : :medium) + (harder ? 1 : 0)
      procedure = attempt.procedures.first
      made =
        Nurv::Expert::Generator
          .new(procedure, all[step] || all.last, Random.rand(SEEDS), attempt.catalog, some: true)
          .stations(1)
          .first
      fresh = @stores.attempts.practise_again(
        attempt, seed: 1, station_id: nil, station_body: made.to_yaml, station_title: made.title
      )
      @stores.attempts.begin(fresh, wall_ms)
    end

    # The same once more.
    def again(attempt, wall_ms, **changed) =
      @stores.attempts.begin(@stores.attempts.practise_again(attempt, **changed), wall_ms)

    private

    def catalog_of(course) = @stores.catalogs.of(@stores.users.find(course.owner_id))

    def drawn(wish, catalog)
      faults = {nothing: [], chosen: [[wish.fault, :moderate]]}[wish.wrong]
      Nurv::Expert::Generator
        .new(
          wish.procedure,
          wish.difficulty,
          Random.rand(SEEDS),
          catalog,
          faults: faults,
          some: true,
          swing_psi: wish.swings ? SWING_PSI : 0.0
        )
        .stations(1)
        .first
    end

    # What comes before the first hose, as a correct tester does it.
    def done_before(attempt)
      run = Nurv::Expert::Truth.of(attempt.variant, attempt.procedures.first).run
      first = run.moments.find { |id, _| !attempt.procedures.first.step(id).opening? }&.last || 0.0
      run.log.select { |action| action.time_s < first }
    end
  end
end
