# frozen_string_literal: true

module Work
  # One attempt, graded and kept.
  class Grading
    def initialize(data)
      @attempt_id = data.fetch(:attempt_id)
    end

    def call(_job)
      attempt = Store::Attempts.new.find(@attempt_id)
      Store::Grades.new.computed(attempt) if attempt&.over?
      {}
    end
  end
end
