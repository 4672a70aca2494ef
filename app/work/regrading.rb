# frozen_string_literal: true

module Work
  # What the results of an exam would be under another policy: worked out, and nothing changed.
  class Regrading
    # @param data [Hash] of the job
    # @param stores [Store::Cabinet]
    def initialize(data, stores)
      @stores = stores
      @exam_id = data.fetch(:exam_id)
      @policy = Nurv::Grading::Policy.new(data.fetch(:policy))
      @grades = @stores.grades
    end

    # @return [Hash] where it leads; and changes: name, and score and pass before and after
    def call(job)
      attempts = @stores.attempts.of_exam_number(@exam_id).select(&:over?)
      changes = attempts.each_with_index.filter_map do |attempt, index|
        yield(index, attempts.size)
        change(attempt)
      end
      {to: "/exams/#{@exam_id}/regrade?job=#{job.id}", changes: changes}
    end

    private

    # @return [Hash, nil] nil where nothing differs
    def change(attempt)
      points = @grades.overrides(attempt).to_h { |item| [item.line, item.earned] }
      before, after = [@grades.computed(attempt), again(attempt)].map { |grade| told(grade.overridden(points)) }
      {name: attempt.trainee_name, before: before, after: after} if before != after
    end

    def told(grade) = {score: grade.score, pass: grade.pass?}

    def again(attempt)
      @grades.computed(attempt).under(@policy) ||
        Nurv::Grading::Grader.grade(attempt.variant, @stores.attempts.log(attempt), policy: @policy)
    end
  end
end
