# frozen_string_literal: true

module Web
  module Helpers
    # The bench that a class looks at together.
    module Displays
      def display = ::Benches::Display.new(stores, keeper)

      # @return [Array(Store::Classes::Course, Store::Boards::Board)] of the page's class, if it looks at one
      def board_of_mine
        course = course_of_mine
        [course, stores.boards.of(course) || redirect_away("/classes/#{course.id}/board")]
      end

      def redirect_away(path) = htmx? ? halt(200, {"HX-Redirect" => path}, "") : redirect(path)

      # A bench that a class looks at was run back, and another stands in its place.
      def run_back!(attempt)
        board = attempt.instructors_own? && attempt.class_id && stores.boards.of_attempt(attempt)
        redirect_away("/attempts/#{board.attempt_id}/bench") if board && board.attempt_id != attempt.id
      end

      # @return [BoardScreen] as it stands now
      def board_screen(course, board)
        attempt = display.now(board, wall_ms)
        board = stores.boards.of(course)
        board = board.covered if stores.boards.guessing?(course.id)
        BoardScreen.new(
          course,
          board,
          attempt,
          BenchScreen.live(attempt, wall_ms, keeper, inside: board.inside?, until_ms: board.next_ms),
          stores,
          board.says_why ? why_words(attempt) : []
        )
      end

      # Why the needle does what it does; where the inside is not shown, what is hidden there is not named.
      def why_words(attempt)
        now_s = attempt.clock_ms(wall_ms) / 1000.0
        board = stores.boards.of_attempt(attempt)
        open = board.inside? && !stores.boards.guessing?(board.class_id)
        remarks =
          keeper.of(attempt).look do |span|
            Nurv::Teaching::Why.new(span, [now_s, span.from_s].max, open: open).remarks
          end
        remarks.map { |one| tell(attempt, one) }
      end

      # The needle's last minute, for a projector that is opened or read anew.
      def lately(attempt) =
        keeper.of(attempt).needle_lately(attempt, attempt.clock_ms(wall_ms) / 1000.0, BoardScreen::LATELY_S)

      # What the instructor's phone shows after it did something.
      def steered(course, notice = nil)
        board = stores.boards.of(course)
        piece :"boards/_steer", screen: board_screen(course, board), notice: notice
      end

      # @param question [Store::Boards::Question]
      # @return [Array<Symbol>]
      def choices_of(question) =
        Nurv::Teaching::Asked.choices(question.kind, stores.attempts.find(question.attempt_id).station.assembly)

      # @param question [Store::Boards::Question, nil]
      # @param known [String] what the trainee's page shows of it
      def asked(question, known)
        given = question && stores.boards.answer_of(question, current_user)
        shown = question ? [question.id, given, question.truth].join("-") : ""
        halt 204 if shown == known && htmx?

        piece :"boards/_asked", question: question, given: given, shown: shown
      end

      # @return [Hash{Symbol => Integer}] hands, as they were counted by eye
      def hands_typed(choices) =
        choices.to_h { |choice| [choice, whole(choice.to_s)] }.select { |_, count| count.positive? }
    end
  end
end
