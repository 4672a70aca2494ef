# frozen_string_literal: true

module Web
  # What a class sees of the bench that it looks at, and what it was asked there.
  class BoardScreen
    # An answer, how many gave it, and whether it came true; nothing is told of that before it is shown.
    Choice = Struct.new(:id, :label, :count, :true?, keyword_init: true)
    # So many acts are told.
    LAST = 5
    # How far back its line reaches, s.
    LATELY_S = 60

    attr_reader :course, :board, :attempt, :bench, :why

    # @param bench [BenchScreen]
    # @param stores [Store::Cabinet]
    # @param why [Array<String>] sentences, where it says why
    def initialize(course, board, attempt, bench, stores, why)
      @course = course
      @board = board
      @attempt = attempt
      @bench = bench
      @stores = stores
      @why = why
    end

    def station = attempt.station

    def words = bench.words

    def paused? = attempt.paused?

    def slow? = attempt.slow?

    # How time goes, in a word.
    def pace
      return "Stopped" if paused?

      slow? ? "Quarter speed" : "Running"
    end

    # What is shown changes its picture only with these.
    def picture = [attempt.id, bench.seq, board.view, paused?, attempt.pace_percent].join("-")

    # @return [Array<Array(Integer, String)>] the acts done last and when, ms; what an instructor put in is for the
    #   class to find
    def acts
      @acts ||=
        @stores.attempts
          .actions_after(attempt, [bench.seq - LAST, 0].max)
          .reject { |action| action.kind == :inject }
          .map { |action| [action.at_ms, ActWords.of(action, station.catalog)] }
    end

    # Its keyframes, and what a projector shows beside them.
    def frames_json = JSON.generate(JSON.parse(bench.frames_json).merge(acts: acts))

    # @return [Store::Boards::Question, nil]
    def question = defined?(@question) ? @question : (@question = @stores.boards.question(course.id))

    # @return [Array<Choice>]
    def choices
      counts = @stores.boards.counts(question)
      Nurv::Teaching::Asked.choices(question.kind, station.assembly).map do |id|
        Choice.new(
          id: id, label: words.answer(id), count: counts.fetch(id, 0), true?: question.truth&.include?(id)
        )
      end
    end

    # @return [String] answers and how many gave them, in a line
    def counts =
      choices.map { |choice| "#{choice.label} #{choice.count}#{" ✓" if choice.true?}" }.join(" · ")

    # What is said below the picture: why, or how all stands.
    def said = why.empty? ? [bench.standing_words] : why

    def said_shown = Digest::SHA256.hexdigest(said.join)[0, 8]

    # Of a question and its answers, what is shown.
    def question_shown =
      question ? [question.id, question.truth&.join(":"), *choices.map(&:count)].join("-") : ""

    # Where a projector asks next, saying what it shows.
    def next_path
      shown = {picture: picture, question: question_shown, said: said_shown}
      "/classes/#{course.id}/board/scene?#{Rack::Utils.build_query(shown)}"
    end

    def kinds = Nurv::Teaching::Asked.kinds(station.assembly)
  end
end
