# frozen_string_literal: true

module Web
  # A graded attempt for the screen: lines by section, the acts, and the bench at any moment.
  class GradeSheet
    SECTIONS = {procedure: "Procedure", readings: "Readings", judgement: "Judgement", records: "Records"}.freeze
    CACHE = {}
    LOCK = Mutex.new
    private_constant :CACHE, :LOCK

    # An attempt that was handed in does not change, so its grade can be kept; it may be thrown away at any time.
    def self.of(attempt)
      LOCK.synchronize do
        CACHE.shift if CACHE.size > 40
        CACHE[[attempt.id, attempt.last_seq, attempt.policy]] ||= new(attempt)
      end
    end

    attr_reader :attempt, :log

    def initialize(attempt)
      @attempt = attempt
      @log = Store::Attempts.new.log(attempt)
      @lock = Mutex.new
    end

    def grade = @grade ||= Nurv::Grading::Grader.grade(attempt.variant, log, policy: policy)

    def policy = Nurv::Catalog.default.policies.fetch(attempt.policy.to_sym)

    def replay = @replay ||= Nurv::Bench::Replay.new(attempt.variant, log)

    def end_ms = log.last_ms

    def sections = SECTIONS.map { |id, name| [name, grade.section(id), grade.share(id)] }

    def mistake_name(line) = line.mistake && Nurv::Catalog.default.mistakes.fetch(line.mistake).name

    def acts = log.reject { |action| action.kind == :fill }.map { |action| [action.at_ms, ActWords.of(action)] }

    # @param ms [Integer] simulated time
    # @return [BenchScreen]
    def screen_at(ms)
      ms = ms.clamp(0, end_ms)
      @lock.synchronize do
        span = replay.span_at(ms / 1000.0)
        BenchScreen.new(attempt, span, now_ms: ms, seq: 0, until_ms: ms + 2_000, frozen: true)
      end
    end
  end
end
