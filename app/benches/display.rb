# frozen_string_literal: true

module Benches
  # The bench that a class looks at together: stopped, slowed, stepped and run back by its instructor. Run back, it is
  # another bench with the acts up to there; what had been done after that comes again by itself, until somebody lays
  # a hand on it.
  class Display
    # Percent of life's pace.
    PACES = {normal: 100, slow: 25}.freeze
    # Simulated ms.
    STEP_MS = 500
    BACK_MS = {back_5: 5_000, back_20: 20_000}.freeze
    WAYS = %i[pause run step normal slow back_5 back_20 start].freeze

    # @param stores [Store::Cabinet]
    # @param keeper [Keeper]
    def initialize(stores, keeper)
      @stores = stores
      @keeper = keeper
    end

    # @param station_row [Store::Stations::Row]
    # @param policy [Nurv::Grading::Policy] of the instructor's
    # @return [Store::Attempt] begun
    def open(course, station_row, instructor, policy, wall_ms)
      attempt = @stores.attempts.create(
        station_row: station_row,
        instructor: instructor,
        trainee: instructor,
        mode: "practice",
        seed: 1,
        policy: policy,
        course: course
      )
      @stores.boards.show(course, attempt)
      @stores.attempts.begin(attempt, wall_ms)
    end

    # @return [Store::Attempt] the bench as it stands, with what was to come again by now
    def now(board, wall_ms)
      attempt = @stores.attempts.seen(@stores.attempts.find(board.attempt_id), wall_ms)
      at_ms = attempt.clock_ms(wall_ms)
      due = attempt.started? ? board.coming.select { |action| action.at_ms <= at_ms } : []
      return attempt if due.empty?

      let_come(board, attempt, due, at_ms)
      @stores.attempts.find(attempt.id)
    end

    # @param how [Symbol] of WAYS
    # @return [Store::Attempt]
    def steer(board, how, wall_ms)
      attempt = now(board, wall_ms)
      return attempt unless attempt.started?
      return run_back(board, attempt, BACK_MS.fetch(how, attempt.clock_ms(wall_ms)), wall_ms) if back?(how)

      @stores.attempts.change_clock(attempt.id) do |clock|
        case how
        when :pause then clock.pause(wall_ms)
        when :run then clock.resume(wall_ms)
        when :step then clock.pause(wall_ms).skip(STEP_MS)
        else clock.at_pace(PACES.fetch(how), wall_ms)
        end
      end
    end

    # An instructor's trouble, from the side of the class.
    #
    # @raise [Nurv::RefusedAction]
    def trouble(board, data, id, wall_ms)
      attempt = now(board, wall_ms)
      @keeper.of(attempt).intervene(attempt, data, id: id, wall_ms: wall_ms)
      @stores.boards.own_hand(attempt)
    end

    # What came true of what was asked.
    #
    # @param question [Store::Boards::Question]
    # @return [Array<Symbol>]
    def truths(board, question, wall_ms)
      attempt = now(board, wall_ms)
      replay = Nurv::Bench::Replay.new(attempt.variant, @stores.attempts.log(attempt))
      # Asked at a later moment than it was run back to, it is asked of now.
      until_s = [attempt.clock_ms(wall_ms) / 1000.0, replay.end_s].max
      Nurv::Teaching::Asked.new(replay, [question.asked_ms / 1000.0, until_s].min, until_s).truths(question.kind)
    end

    private

    def back?(how) = how == :start || BACK_MS.key?(how)

    # Two that look at the same time do the same; one of them comes too late, and that is no harm.
    def let_come(board, attempt, due, at_ms)
      fresh = due.reject { |action| @stores.attempts.recorded?(attempt, action.id) }
      @keeper.of(attempt).do_again(attempt, fresh)
      @stores.boards.came(board, at_ms)
    rescue Store::Attempts::MovedOn
      nil
    end

    def run_back(board, attempt, by_ms, wall_ms)
      at_ms = [attempt.clock_ms(wall_ms) - by_ms, 0].max
      kept, later = @stores.attempts.log(attempt).partition { |action| action.at_ms <= at_ms }
      again = @stores.attempts.aside(attempt)
      @keeper.of(again).do_again(again, kept)
      @stores.boards.turn_back(board, again, later + board.coming)
      @stores.attempts.put_in_place(
        attempt,
        again,
        at_ms: at_ms,
        wall_ms: wall_ms,
        pace_percent: attempt.pace_percent,
        paused_wall_ms: attempt.paused? ? wall_ms : nil
      )
    end
  end
end
