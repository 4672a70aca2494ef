# frozen_string_literal: true

module Store
  # The bench that a class looks at together, and what it is asked there. A class has one at most.
  class Boards < Drawer
    # attempt_id of the bench; view [Symbol] of VIEWS; says_why [Boolean]; coming [Array<Nurv::Bench::Action>] acts
    # that come again by themselves, in their order
    Board = Struct.new(:id, :class_id, :attempt_id, :view, :says_why, :coming, keyword_init: true) do
      # @return [Integer, nil] simulated ms until which the water is known without another act
      def next_ms = coming.first&.at_ms

      def inside? = view == :inside

      # As long as a class guesses which part is at fault, nothing shows or says it.
      #
      # @return [Board]
      def covered = dup.tap { |board| board.view, board.says_why = :whole, false }
    end
    # kind [Symbol]; asked_ms simulated; truth [Array<Symbol>, nil] once it is shown; hands [Hash{Symbol => Integer}]
    Question = Struct.new(
      :id, :class_id, :attempt_id, :kind, :asked_ms, :truth, :hands, :asked_at, :closed_at, keyword_init: true
    ) do
      def open? = closed_at.nil?
    end
    # What of a bench is shown large.
    VIEWS = %i[inside whole].freeze
    # An answer stays before a class so long.
    SHOWN_S = 30
    # More hands than that go up in no classroom.
    MOST_HANDS = 200

    def initialize(stores)
      super
      @rows = @database[:boards]
      @questions = @database[:board_questions]
      @answers = @database[:board_answers]
    end

    # @param course [Classes::Course]
    # @return [Board, nil]
    def of(course) = wrap(@rows.first(class_id: course.id))

    # @return [Board, nil] the one that was this bench until it was run back
    def of_attempt(attempt) = wrap(@rows.first(class_id: attempt.class_id))

    # Another bench for this class to look at; what was asked at the one before is over.
    def show(course, attempt, view: VIEWS.first)
      @database.transaction do
        take_away(course)
        @rows.insert(class_id: course.id, attempt_id: attempt.id, view: view.to_s, coming: "[]")
      end
    end

    def take_away(course)
      @rows.where(class_id: course.id).delete
      @questions.where(class_id: course.id, closed_at: nil).update(closed_at: Clock.now)
    end

    # The same board, at a bench that stands as its own stood before.
    #
    # @param coming [Array<Nurv::Bench::Action>]
    def turn_back(board, attempt, coming) =
      @rows.where(id: board.id).update(attempt_id: attempt.id, coming: JSON.generate(coming.map(&:to_h)))

    def look(board, view) = @rows.where(id: board.id).update(view: view.to_s)

    def say_why(board, says) = @rows.where(id: board.id).update(says_why: says)

    # Acts that have come again are no longer to come. Another bench may stand there by now.
    #
    # @param until_ms [Integer] simulated
    def came(board, until_ms)
      left = board.coming.reject { |action| action.at_ms <= until_ms }
      @rows.where(id: board.id, attempt_id: board.attempt_id).update(coming: JSON.generate(left.map(&:to_h)))
    end

    # Somebody's own hand is at the bench: nothing comes by itself any more.
    def own_hand(attempt) = @rows.where(attempt_id: attempt.id).exclude(coming: "[]").update(coming: "[]")

    # --- questions

    # One question at a time.
    #
    # @param kind [Symbol] of Nurv::Teaching::Asked::KINDS
    # @param asked_ms [Integer] simulated
    def ask_class(board, kind, asked_ms)
      @database.transaction do
        @questions.where(class_id: board.class_id, closed_at: nil).update(closed_at: Clock.now)
        @questions.insert(
          class_id: board.class_id,
          attempt_id: board.attempt_id,
          kind: kind.to_s,
          asked_ms: asked_ms,
          hands: "{}",
          asked_at: Clock.now
        )
      end
    end

    # @return [Question, nil] the one that is before a class, or whose answer still is
    def question(class_id)
      newest = ask(:board_question, class_id: class_id) do
        @questions.where(class_id: :$class_id).reverse(:id).limit(1)
      end
      found = newest.first&.then { |row| question_of(row) }
      found if found&.open? || (found&.truth && found.closed_at >= Clock.now - SHOWN_S)
    end

    # @return [Boolean] a class is asked which part is at fault, and has not been told
    def guessing?(class_id) = question(class_id).then { |one| one&.open? && one.kind == :part } || false

    # @param truth [Array<Symbol>]
    def close(question, truth) =
      @questions.where(id: question.id, closed_at: nil).update(closed_at: Clock.now, truth: truth.join(" "))

    # @param hands [Hash{Symbol => Integer}] that went up for each choice
    def count_hands(question, hands) =
      @questions
        .where(id: question.id)
        .update(hands: JSON.generate(hands.transform_values { |count| count.clamp(0, MOST_HANDS) }))

    # What one answers, or answers instead, as long as it is open.
    #
    # @return [Boolean] it counts
    def answer(question, user, choice)
      @database.transaction do
        next false if @questions.where(id: question.id, closed_at: nil).empty?

        @answers
          .insert_conflict(target: %i[question_id user_id], update: {choice: choice.to_s})
          .insert(question_id: question.id, user_id: user.id, choice: choice.to_s)
        true
      end
    end

    # @return [Symbol, nil] what this person has answered
    def answer_of(question, user) = @answers.where(question_id: question.id, user_id: user.id).get(:choice)&.to_sym

    # @return [Hash{Symbol => Integer}] answers by choice, hands among them
    def counts(question) =
      @answers
        .where(question_id: question.id)
        .group_and_count(:choice)
        .to_h { |row| [row[:choice].to_sym, row[:count]] }
        .merge(question.hands) { |_, pressed, up| pressed + up }

    # @return [Question, nil] what this person's class is asked
    def asked_of(user)
      ask(:classes_asked, user: user.id) {
        @database[:boards]
          .join(:members, class_id: Sequel[:boards][:class_id])
          .where(user_id: :$user)
          .select(Sequel[:boards][:class_id])
          .reverse(Sequel[:boards][:id])
          .limit(1)
      }.first&.then { |row| question(row[:class_id]) }
    end

    # What one person has answered becomes another's, where that one has not.
    def merge(user, other)
      theirs = @answers.where(user_id: user.id).select(:question_id)
      @answers.where(user_id: other.id).exclude(question_id: theirs).update(user_id: user.id)
      @answers.where(user_id: other.id).delete
    end

    private

    def wrap(row)
      return unless row

      coming = JSON.parse(row[:coming], symbolize_names: true).map { |data| Nurv::Bench::Action.new(data) }
      Board.new(**row.slice(:id, :class_id, :attempt_id, :says_why), view: row[:view].to_sym, coming: coming)
    end

    def question_of(row) =
      Question.new(
        **row.slice(:id, :class_id, :attempt_id, :asked_ms, :asked_at, :closed_at),
        kind: row[:kind].to_sym,
        truth: row[:truth]&.split&.map(&:to_sym),
        hands: JSON.parse(row[:hands], symbolize_names: true)
      )
  end
end
