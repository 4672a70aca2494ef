# frozen_string_literal: true

module Web
  # What the results of an exam would be under another policy.
  class Regrade
    Change = Struct.new(:attempt, :before, :after, keyword_init: true) do
      def differs? = before.score != after.score || before.pass? != after.pass?
    end

    def initialize(attempts, policy)
      @attempts = attempts.select(&:over?)
      @policy = policy
      @grades = Store::Grades.new
    end

    # @return [Array<Change>]
    def changes
      @changes ||= @attempts.map do |attempt|
        before = @grades.with_overrides(attempt)
        points = @grades.overrides(attempt).to_h { |item| [item.line, item.earned] }
        Change.new(attempt: attempt, before: before, after: again(attempt).overridden(points))
      end
    end

    private

    def again(attempt) = @grades.computed(attempt).under(@policy) || Nurv::Grading::Grader.grade(attempt.variant, Store::Attempts.new.log(attempt), policy: @policy)
  end
end
