# frozen_string_literal: true

module Benches
  # The bench of an attempt as it stands, kept warm between requests. May be thrown away at any time: log or snapshot
  # bring it back to the last bit.
  class LiveBench
    # Steps of the water kept at hand while nobody does anything, and for how long back.
    MOST_STEPS = 3_000
    KEPT_S = 60
    # A log that is handed in can be read again.
    MOST_ACTS = Nurv::Bench::Log::MOST - 1
    # So many steps after what is kept on disk, the water is kept there again: a process that takes a bench up need
    # not work out more than that.
    KEEP_EVERY = 40
    # Whoever takes it up asks about no earlier moment: an act may land a little back, and a needle's pace is that of
    # the half second before.
    ASKED_BACK_S = 3.0
    # Acts that are kept at hand to see how far the tester is.
    RECENT = 60

    attr_reader :seq, :progress

    # @param attempt [Store::Attempt]
    # @param stores [Store::Cabinet]
    def initialize(attempt, stores)
      @lock = Monitor.new
      @stores = stores
      @attempt_id = attempt.id
      @variant = attempt.variant
      @policy = attempt.grading_policy
      @store = stores.attempts
      @seq = 0
      @progress = Nurv::Grading::Progress.new
      @recent = []
      @kept_steps = 0
      stand_as(@store.snapshot(attempt))
    end

    # Everything that reads the bench does so in here, since looking ahead works on shared arrays.
    def look
      @lock.synchronize do
        seen = yield(span)
        keep_water(span)
        tidy(span.trajectory)
        tell_of_hurry(span.trajectory)
        seen
      end
    end

    def catch_up(attempt)
      @lock.synchronize do
        next if @seq >= attempt.last_seq

        # Another worker was here: its snapshot is the bench to the last bit, and cheaper than doing its acts again.
        newest = @store.snapshot(attempt)
        stand_as(newest) if newest && newest.first >= attempt.last_seq
        @store.actions_after(attempt, @seq).each { |action| advance(action, span.after(action, new: false)) }
      end
    end

    # The procedure the tester follows.
    def procedure = @policy.adjust(@variant.station.procedure_named(span.state.report[:procedure]))

    # What a coach says here and now, from all that was done at this bench.
    #
    # @param attempt [Store::Attempt]
    # @param now_s [Float] simulated seconds
    # @return [Nurv::Teaching::Coach::Advice]
    def advice(attempt, now_s)
      @lock.synchronize do
        whole(attempt)
        coach = (@coaches ||= {})[procedure.fingerprint] ||= coach_of(procedure)
        coach.advice(done, now_s)
      end
    end

    # The needle of the time just gone, for a page that has not seen it run.
    #
    # @param attempt [Store::Attempt]
    # @param now_s [Float] simulated seconds
    # @param seconds [Numeric] how far back
    # @return [Array<Array(Integer, Float)>] ms and psid
    def needle_lately(attempt, now_s, seconds)
      @lock.synchronize do
        whole(attempt)
        Nurv::Teaching::Trace.points(done, from_s: [now_s - seconds, 0.0].max, until_s: now_s)
      end
    end

    # Carries an act out: on the simulator first, then on disk, then in memory.
    #
    # @param data [Hash] kind and fields
    # @param seen_ms [Integer] simulated time the tester saw
    # @raise [Nurv::RefusedAction, Store::Attempts::MovedOn]
    def act(attempt, data, id:, known_seq:, seen_ms:, wall_ms:)
      @lock.synchronize do
        if known_seq != @seq
          # Sent again, since its answer was lost.
          return if @store.recorded?(attempt, id)

          raise Store::Attempts::MovedOn, "The bench has moved on in another window."
        end
        if @seq >= MOST_ACTS && data[:kind] != "submit"
          raise Nurv::RefusedAction.new(:bench_full, acts: Nurv::Bench::Log::MOST)
        end
        raise Nurv::RefusedAction.new(:exam_paused) if attempt.paused? && attempt.exam?

        write(attempt, data, id, attempt.clock.lands(seen_ms, wall_ms, from_ms: from_ms), seen_wall_ms: wall_ms)
      end
    end

    # An instructor's act: it lands now, whatever the tester's page knows.
    def intervene(attempt, data, id:, wall_ms:)
      @lock.synchronize do
        return if @store.recorded?(attempt, id)

        write(attempt, data, id, [attempt.clock.at(wall_ms), from_ms].max)
      end
    end

    # Acts that were done elsewhere, at the times they were done.
    def do_again(attempt, actions)
      @lock.synchronize do
        actions.each { |action| write(attempt, action.to_h.except(:at_ms, :id), action.id, action.at_ms) }
      end
    end

    # Time is over, or the exam is closed: what was done by then counts.
    def hand_in(attempt, wall_ms)
      @lock.synchronize do
        next if @store.recorded?(attempt, "handed-in-by-the-clock")

        at_ms = [attempt.clock.ends(wall_ms), from_ms].max
        write(attempt, {kind: "submit"}, "handed-in-by-the-clock", at_ms)
      end
    end

    private

    # All that was done here, kept up from now on.
    def whole(attempt) =
      @whole ||= Nurv::Bench::Replay.new(@variant, @store.log(attempt), met: @store.met(attempt)).entries.dup

    # It knows the bench as it was found; where parts may be mended, that need not be this one any more.
    def coach_of(procedure)
      return Nurv::Teaching::Coach.new(procedure) if @variant.station.repairs?

      # The better part of a second where nobody has asked for it yet: the first question is answered without.
      truth = Thread.new { Nurv::Expert::Truth.of(@variant, procedure) }
      truth.report_on_exception = true
      Nurv::Teaching::Coach.new(procedure, truth: -> { truth.value unless truth.alive? })
    end

    def done
      return Nurv::Bench::Replay.new(@variant, Nurv::Bench::Log.new) if @whole.empty?

      Nurv::Bench::Replay.recent(@variant, @whole)
    end

    def span = @span ||= Nurv::Bench::Span.new(@variant, Openings.state(@variant))

    # @param newest [Array(Integer, String, String), nil] number, text and progress of a snapshot
    def stand_as(newest)
      return unless newest

      seq, text, progress, running = newest
      running = Nurv::Bench::Snapshot.load_running(running)
      span = Nurv::Bench::Span.new(@variant, Nurv::Bench::Snapshot.load(text), running: running)
      @kept_steps = running ? running.taken : 0
      @progress = Nurv::Grading::Progress.new(JSON.parse(progress, symbolize_names: true)) if progress
      @seq = seq
      @span = span
      @recent = []
      @whole = nil
    rescue *Nurv::Bench::Snapshot::UNREADABLE => error
      # A snapshot is a cache: the log says the same, and takes a moment longer.
      warn "snapshot: #{error.class}; the bench is worked out from its log"
    end

    # @param seen_wall_ms [Integer, nil] the tester is there: an act says so as well as a look
    def write(attempt, data, id, at_ms, seen_wall_ms: nil)
      action = Nurv::Bench::Action.new({**data, id: id, at_ms: at_ms})
      after = span.after(action)
      entry = Nurv::Bench::Replay::Entry.new(action, span, after)
      progress = noted(entry)
      @store.append(
        attempt,
        action,
        @seq,
        Nurv::Bench::Snapshot.dump(after.state),
        progress.to_json,
        running: running_at(after, action),
        met: Nurv::Bench::Snapshot.dump_met(Nurv::Bench::Met.of(action, span)),
        seen: seen_wall_ms && {seen_wall_ms: seen_wall_ms, needle_psid: after.needle_at(action.time_s)}
      )
      advance(action, after, progress)
      @stores.grades.want([@store.find(attempt.id)]) if action.kind == :submit && attempt.drill.nil?
    end

    # How far the tester is after this act.
    def noted(entry)
      recent = Nurv::Bench::Replay.recent(@variant, @recent + [entry])
      @progress.after(recent, procedure)
    rescue => error
      # It is only for those who watch: no act may fail because of it.
      warn "progress: #{error.class}: #{error.message}"
      @progress
    end

    def advance(action, after, progress = nil)
      entry = Nurv::Bench::Replay::Entry.new(action, span, after)
      @progress = progress || noted(entry)
      @recent.last&.before&.forget unless @recent.last&.before.equal?(after)
      @recent = Nurv::Bench::Stroke.followed(@recent, entry).last(RECENT)
      @whole&.push(entry)
      @span = after
      @kept_steps = 0 unless action.paper?
      @seq += 1
    end

    # An act on paper leaves the water running.
    def running_at(after, action)
      return unless action.paper?

      Nurv::Bench::Snapshot.dump_running(after.trajectory.running(action.time_s - ASKED_BACK_S))
    end

    # Pages are told seconds ahead, so the newest step lies ahead as well.
    def keep_water(span)
      trajectory = span.trajectory
      return if trajectory.taken < @kept_steps + KEEP_EVERY

      running = trajectory.running(trajectory.steps.last.time_s - Keeper::AHEAD_S - ASKED_BACK_S) or return
      return if running.taken < @kept_steps + KEEP_EVERY

      @kept_steps = running.taken
      @store.ran_on(@attempt_id, @seq, Nurv::Bench::Snapshot.dump_running(running))
    end

    # Nothing lands so long ago: what the water did then is in nobody's eyes any more.
    def tidy(trajectory)
      return if trajectory.steps.size < MOST_STEPS

      trajectory.forget_before(trajectory.steps.last.end_s - KEPT_S)
    end

    # A bench in a corner that nobody thought of lives on; whoever keeps the server should send its log.
    def tell_of_hurry(trajectory)
      return if @hurried || !trajectory.hurried?

      @hurried = true
      warn "water: attempt #{@attempt_id} after act #{@seq} goes on with steps of " \
             "#{Nurv::Hydraulics::Trajectory::HURRIED_STEP_S} s"
    end

    # Simulated time of the newest act, ms.
    def from_ms = (span.from_s * 1000).round

    # Settled benches, by station as it was drawn.
    module Openings
      KEPT = Recent.new(500)
      private_constant :KEPT

      def self.state(variant)
        # A seed draws the station and the phases of a swing; where the main stands still, the drawn station says all.
        swing = variant.swing_psi.positive? ? variant.phases : nil
        KEPT.fetch([variant.station.catalog.object_id, variant.station.data, swing]) do
          Nurv::Bench::Opening.new(variant).state
        end
      end
    end
  end
end
