# frozen_string_literal: true

module Web
  # A graded attempt for the screen: lines by section as computed and as overridden, the acts, and the bench at any
  # moment.
  class GradeSheet
    SECTIONS = {procedure: "Procedure", readings: "Readings", judgement: "Judgement", records: "Records"}.freeze
    RECORDINGS = Recent.new(12)
    TRACES = Recent.new(60)
    private_constant :RECORDINGS, :TRACES

    # The replay of what was handed in does not change, so it is kept warm; it may be thrown away at any time.
    #
    # @param attempt [Store::Attempt]
    # @param stores [Store::Cabinet]
    def self.of(attempt, stores)
      kept = RECORDINGS.fetch([attempt.id, attempt.last_seq]) { Recording.new(attempt, stores.attempts) }
      new(attempt, kept, stores.grades)
    end

    # Log and replay, shared by all who look at it.
    class Recording
      attr_reader :log

      # @param attempt [Store::Attempt]
      # @param attempts [Store::Attempts]
      def initialize(attempt, attempts)
        @attempt = attempt
        @attempts = attempts
        @log = attempts.log(attempt)
        @variant = attempt.variant
        @lock = Mutex.new
      end

      # @yieldparam replay [Nurv::Bench::Replay] to be read in here only, since looking ahead works on shared arrays
      def whole = @lock.synchronize { yield(replay) }

      def at(time_s) = @lock.synchronize { yield(span_at(time_s)) }

      private

      # How it ended is at hand; for what was before, everything is done again, once.
      def span_at(time_s)
        return replay.span_at(time_s) if time_s * 1000 < log.last_ms || @replay

        @last ||= kept_span || replay.last
      end

      def replay = @replay ||= Nurv::Bench::Replay.new(@variant, log)

      def kept_span
        seq, text, = @attempts.snapshot(@attempt)
        Nurv::Bench::Span.new(@variant, Nurv::Bench::Snapshot.load(text)) if seq == log.size
      rescue *Nurv::Bench::Snapshot::UNREADABLE
        nil
      end
    end

    attr_reader :attempt

    # @param recording [Recording]
    # @param grades [Store::Grades]
    def initialize(attempt, recording, grades)
      @attempt = attempt
      @recording = recording
      @grades = grades
    end

    # @return [Boolean] the grade was worked out by laws of the water that have been bettered since
    def of_older_water? = @grades.of_older_water?(attempt)

    def log = @recording.log

    def computed = @computed ||= @grades.computed(attempt)

    def overrides = @overrides ||= @grades.overrides(attempt).to_h { |item| [item.line, item] }

    # The grade that stands: as computed, with what the instructor overrode laid over it.
    def grade = @grade ||= computed.overridden(overrides.transform_values(&:earned))

    def override_of(line) = overrides[line.key]

    def computed_line(line) = computed.lines.find { |item| item.key == line.key }

    def end_ms = log.last_ms

    # @return [Array<Array(String, Array<Nurv::Words::ToldLine>, Float)>] name, lines and share of each section
    def sections = SECTIONS.map { |id, name| [name, told.section(id), grade.share(id)] }

    # @return [Array<String>] what fails outright, by name
    def failed_outright = grade.failed_outright.map { |id| catalog.words.mistake(id) }

    # @param key [String] of a line
    # @return [String]
    def title_of(key)
      line = computed.lines.find { |item| item.key == key }
      line ? told.tell(line).title : key
    end

    def catalog = attempt.station.catalog

    def acts
      Nurv::Bench::Stroke
        .folded(log)
        .reject { |action| action.kind == :fill }
        .map { |action| [action.at_ms, ActWords.of(action, catalog)] }
    end

    def report = @recording.at(end_ms / 1000.0) { |span| span.state.report }

    def state = @recording.at(end_ms / 1000.0, &:state)

    # @return [Nurv::Words::ToldGrade] the grade that stands, in words
    def told = @told ||= Nurv::Words::ToldGrade.new(grade, catalog)

    # The needle of the whole attempt, and the correct tester's beside it.
    #
    # @return [Web::TracePicture]
    def trace
      @trace ||=
        TRACES.fetch([attempt.id, attempt.last_seq, computed.procedure.fingerprint]) do
          procedure = computed.procedure
          truth = Nurv::Expert::Truth.of(attempt.variant, procedure)
          @recording.whole do |replay|
            [Nurv::Teaching::Trace.points(replay), Nurv::Teaching::Trace.expert(replay, procedure, truth)]
          end
        end
          .then { |own, expert| TracePicture.new(own, expert, told.lines, log) }
    end

    # @param line [Nurv::Grading::Line] one that was lost
    # @return [Integer] acts after which its step had its turn
    def acts_before(line) = @recording.whole { |replay| Nurv::Teaching::Restart.new(replay, computed).acts(line) }

    # @return [Hash{Symbol => Nurv::Teaching::Cost::Bill}] by the step whose reading it is
    def bills
      @bills ||=
        @recording.whole { |replay| Nurv::Teaching::Cost.new(replay, computed).bills }
          .to_h { |bill| [computed.procedure.items.fetch(bill.item).step, bill] }
    end

    # What a step's errors cost its reading, said once: at the step's first lost line.
    #
    # @param line [Nurv::Grading::Line]
    # @return [Array<String>] sentences
    def cost(line)
      bill = bills[line.about]
      first = computed.lines.find { |one| one.section == :procedure && one.about == line.about && one.lost? }
      (bill && first && first.key == line.key) ? told.bill(bill) : []
    end

    # @param ms [Integer] simulated time
    # @return [Array<String>] why the needle did what it did then
    def why_at(ms)
      remarks = @recording.at(ms / 1000.0) { |span| Nurv::Teaching::Why.new(span, ms / 1000.0).remarks }
      remarks.map { |remark| told.say(remark) }
    end

    # @param ms [Integer] simulated time
    # @return [BenchScreen]
    def screen_at(ms)
      ms = ms.clamp(0, end_ms)
      @recording.at(ms / 1000.0) do |span|
        BenchScreen.new(attempt, span, now_ms: ms, seq: 0, until_ms: ms, inside: true)
      end
    end
  end
end
