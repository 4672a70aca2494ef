# frozen_string_literal: true

module Benches
  # The benches of a cabinet's attempts, kept warm between requests, and what is done to whole benches: a step back,
  # handing in, closing an exam.
  class Keeper
    # Benches kept at hand.
    MOST = 300
    # How far a page is told ahead.
    AHEAD_S = 2.0

    # @param stores [Store::Cabinet]
    def initialize(stores)
      @stores = stores
      @benches = {}
      @lock = Mutex.new
    end

    # @param attempt [Store::Attempt]
    # @return [LiveBench] brought up to the newest act on disk
    def of(attempt)
      bench =
        @lock.synchronize do
          @benches.shift if @benches.size >= MOST && !@benches.key?(attempt.id)
          kept = @benches.delete(attempt.id)
          # A database put back from a copy may know less than what was kept here.
          @benches[attempt.id] = (kept if kept && kept.seq <= attempt.last_seq) || LiveBench.new(attempt, @stores)
        end
      bench.catch_up(attempt)
      bench
    end

    # Settles benches before anybody stands at them, aside: they begin with the first two seconds at hand.
    #
    # @param attempts [Array<Store::Attempt>]
    # @yieldparam attempt [Store::Attempt] settled: what else can be done ahead
    # @return [Thread]
    def prepare(attempts)
      Thread.new do
        attempts.first(MOST).each do |attempt|
          of(attempt).look { |span| span.trajectory.extend_to(AHEAD_S) }
          yield attempt if block_given?
        rescue => error
          # Whoever opens it settles it then.
          warn "preparing bench #{attempt.id}: #{error.class}: #{error.message.lines.first}"
        end
      end
    end

    # Lets go of all that can be worked out again.
    def forget_all = @lock.synchronize { @benches.clear }

    # The same bench as it stood before the step that was reached last. A log is only ever added to, so this is a new
    # attempt that begins with the acts up to there; the one left behind stays as it is.
    #
    # @param attempt [Store::Attempt]
    # @param wall_ms [Integer]
    # @return [Store::Attempt]
    def step_back(attempt, wall_ms)
      bench = of(attempt)
      until_ms = bench.look { bench.progress.before_last_step_ms }
      kept = @stores.attempts.log(attempt).select { |action| action.at_ms <= until_ms }
      # Made ready aside, out of anybody's sight, and put in place in one go.
      again = @stores.attempts.aside(attempt)
      of(again).do_again(again, kept)
      @stores.attempts.put_in_place(attempt, again, at_ms: until_ms, wall_ms: wall_ms)
    end

    # A practice bench as one of before stood after so many acts: they are done again at a bench of its own, and whoever
    # worked there goes on from them.
    #
    # @param attempt [Store::Attempt] over, and open to its trainee
    # @param acts [Integer]
    # @param wall_ms [Integer]
    # @return [Store::Attempt] begun, its clock at the last of those acts
    def take_up(attempt, acts, wall_ms)
      kept = @stores.attempts.log(attempt).first(acts)
      again = @stores.attempts.aside(attempt, mode: "practice")
      of(again).do_again(again, kept)
      @stores.attempts.put_in_place(attempt, again, at_ms: kept.last&.at_ms.to_i, wall_ms: wall_ms)
    end

    # Hands in for those whose time is over, and for all when an exam is closed: what was done by then is graded.
    #
    # @param attempts [Array<Store::Attempt>]
    # @param wall_ms [Integer]
    def hand_in(attempts, wall_ms)
      attempts.each do |attempt|
        next unless attempt.started?

        tries ||= 0
        of(attempt).hand_in(attempt, wall_ms)
      rescue Store::Attempts::MovedOn
        # An act came in between; with it the bench is handed in.
        attempt = @stores.attempts.find(attempt.id)
        ((tries += 1) < 3) ? retry : warn("handing in attempt #{attempt.id}: acts keep coming in")
      rescue Nurv::Error, Sequel::DatabaseError => error
        # One bench that cannot be handed in, or not now, must not keep the others from being so, nor a page from
        # being shown.
        warn "handing in attempt #{attempt.id}: #{error.message}"
      end
    end

    # Closes an exam. Each bench is handed in on its own, as at the end of its time, since a bench's lock is never
    # waited for with the database held; closing what was half closed goes on from there. What was never begun is no
    # work of anybody's: it stays out of marks.
    #
    # @param exam [Store::Exams::Exam]
    # @param wall_ms [Integer]
    # @return [Integer] how many benches were never begun
    def close(exam, wall_ms)
      @stores.exams.resume(exam, wall_ms)
      hand_in(@stores.attempts.of_exam(exam), wall_ms)
      @stores.exams.shut(exam)
    end
  end
end
