# frozen_string_literal: true

module Benches
  # Drills as benches: begun where the skill is wanted, marked for that alone.
  class Drills
    FILE = File.join(Nurv::Catalog::ROOT, "drills/drills.yml")
    LOCK = Mutex.new
    # Between what was done and the trainee's hands.
    PAUSE_MS = 500
    # How it went: drill [Nurv::Teaching::Drill]; try [Store::Drills::Try]; lines [Array<Nurv::Words::ToldLine>]; late
    # [Boolean] it took longer than there was time for
    Outcome = Struct.new(:drill, :try, :lines, :late, keyword_init: true)

    # @param catalog [Nurv::Catalog]
    # @return [Hash{Symbol => Nurv::Teaching::Drill}]
    def self.all(catalog) =
      LOCK.synchronize { @all ||= Nurv::Teaching::Drill.parse(File.read(FILE), catalog, FILE) }

    # @param stores [Store::Cabinet]
    # @param keeper [Keeper]
    def initialize(stores, keeper)
      @stores = stores
      @keeper = keeper
    end

    # @return [Hash{Symbol => Nurv::Teaching::Drill}]
    def all = self.class.all(@stores.catalog)

    # @param procedures [Array<Nurv::Procedures::Procedure>] as adopted, that may be practised
    # @return [Array<Nurv::Teaching::Drill>] those that one of them can be drilled by
    def by(procedures) = all.values.select { |drill| ways(drill, procedures).any? }

    # @param drill [Nurv::Teaching::Drill]
    # @param procedures [Array<Nurv::Procedures::Procedure>]
    # @return [Store::Attempt] begun, where the drill begins
    def begin(trainee, course, drill, procedures, wall_ms, seed: Random.rand(Practice::SEEDS))
      open = ways(drill, procedures)
      way = open[seed % open.size]
      catalog = @stores.catalogs.of(@stores.users.find(course.owner_id))
      procedure = procedures.find { |one| one.id == way.procedure }
      station = drill.station(way, procedure, seed, catalog)
      named = "#{drill.id} #{drill.ways.index(way)}"
      Drawn.new(@stores, @keeper).put(station, trainee, course, wall_ms, pause_ms: PAUSE_MS, drill: named) do
        drill.begun(way, Nurv::Stations::Variant.new(station, 1), procedure)
      end
    end

    # @param attempt [Store::Attempt] of a drill
    # @return [Array(Nurv::Teaching::Drill, Nurv::Teaching::Drill::Way)]
    def of(attempt)
      id, index = attempt.drill.split
      drill = all.fetch(id.to_sym)
      [drill, drill.ways.fetch(index.to_i)]
    end

    # @param attempt [Store::Attempt] handed in
    # @return [Outcome] marked now, and kept
    def outcome(attempt)
      drill, way = of(attempt)
      log = @stores.attempts.log(attempt)
      procedure = attempt.procedures.first
      grade =
        Nurv::Grading::Grader.grade(
          attempt.variant, drill.handed_in(log), procedure: procedure, policy: attempt.grading_policy
        )
      lines = drill.lines(way, grade)
      began_ms = log.first(attempt.drill_from).last&.at_ms.to_i
      try =
        @stores.drills.keep(
          attempt,
          drill: drill.id,
          procedure: way.procedure,
          steps: way.steps + way.readings.map { |item| procedure.items.fetch(item).step }.compact,
          score: drill.score(lines),
          ms: log.last_ms - began_ms
        )
      told = Nurv::Words::ToldGrade.new(grade, attempt.catalog)
      late = try.ms > drill.seconds * 1000
      Outcome.new(drill: drill, try: try, lines: lines.map { |line| told.tell(line) }, late: late)
    end

    private

    # One that an adopted procedure has left the step out of cannot be drilled by it.
    def ways(drill, procedures)
      drill.ways_by(procedures.map(&:id)).select do |way|
        procedure = procedures.find { |one| one.id == way.procedure }
        [*way.steps, way.from].all? { |step| step == Nurv::Teaching::Drill::REPORT || procedure.step(step) }
      end
    end
  end
end
