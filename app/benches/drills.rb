# frozen_string_literal: true

require "digest"
require "json"

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
    # A bench that waits for a hand: way [Integer]; station [Nurv::Stations::Station]; acts [Array<Nurv::Bench::Action>]
    # done there already
    Ready = Struct.new(:way, :station, :acts, keyword_init: true)

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

    # @param drill [Nurv::Teaching::Drill] one that this class may practise
    # @return [Store::Attempt] begun, where the drill begins
    def begin(trainee, course, drill, wall_ms)
      ready = prepared(course, drill) || make(course, drill)
      named = "#{drill.id} #{ready.way}"
      Drawn.new(@stores, @keeper).put(ready.station, trainee, course, wall_ms, pause_ms: PAUSE_MS, drill: named) do
        ready.acts
      end
    end

    # A correct tester has to do all that comes before it: whoever presses a key for the next drill should not wait for
    # that. One is made ready for whoever comes first.
    #
    # @param course [Store::Classes::Course]
    # @param drill [Nurv::Teaching::Drill]
    def prepare(course, drill)
      subject = subject(course, drill)
      return if @stores.jobs.ready?("drill", subject)

      @stores.jobs.push("drill", owner: owner(course), subject: subject, class_id: course.id, drill: drill.id)
    end

    # @return [Ready, nil] nil: this class may not practise anything that the drill could be done by
    def make(course, drill)
      procedures = @stores.catalogs.practised(course)
      way = ways(drill, procedures).sample or return
      procedure = procedures.find { |one| one.id == way.procedure }
      station = drill.station(way, procedure, Random.rand(Practice::SEEDS), catalog(course))
      acts = drill.begun(way, Nurv::Stations::Variant.new(station, 1), procedure)
      Ready.new(way: drill.ways.index(way), station: station, acts: acts)
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
          attempt.variant,
          drill.handed_in(log),
          procedure: procedure,
          policy: attempt.grading_policy,
          met: @stores.attempts.met(attempt)
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
      @stores.attempts.forget_met(attempt)
      told = Nurv::Words::ToldGrade.new(grade, attempt.catalog)
      late = try.ms > drill.seconds * 1000
      Outcome.new(drill: drill, try: try, lines: lines.map { |line| told.tell(line) }, late: late)
    end

    private

    # Made before under the same facts and the same policy; nobody gets it twice.
    #
    # @return [Ready, nil]
    def prepared(course, drill)
      kept = @stores.jobs.take_outcome("drill", subject(course, drill)) or return
      acts = kept.fetch(:acts).map { |act| Nurv::Bench::Action.new(act) }
      station = Nurv::Stations::Station.parse(kept.fetch(:station), catalog(course))
      Ready.new(way: kept.fetch(:way), station: station, acts: acts)
    end

    # All that such a bench hangs on: the facts, by their digest, how they are adopted, what may be practised, and the
    # drill as it is written. A newer version of any of them takes up nothing of an older.
    def subject(course, drill)
      policy = @stores.policies.usual(owner(course)).data
      on = [catalog(course).digest, policy, course.practises, drill.ways.map(&:to_h)]
      "#{course.owner_id} #{drill.id} #{Digest::SHA256.hexdigest(JSON.generate(on))[0, 16]}"
    end

    def owner(course) = @stores.users.find(course.owner_id)

    def catalog(course) = @stores.catalogs.of(owner(course))

    # One that an adopted procedure has left the step out of cannot be drilled by it.
    def ways(drill, procedures)
      drill.ways_by(procedures.map(&:id)).select do |way|
        procedure = procedures.find { |one| one.id == way.procedure }
        [*way.steps, way.from].all? { |step| step == Nurv::Teaching::Drill::REPORT || procedure.step(step) }
      end
    end
  end
end
