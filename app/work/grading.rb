# frozen_string_literal: true

module Work
  # One attempt, graded and kept.
  class Grading
    # @param data [Hash] of the job
    # @param stores [Store::Cabinet]
    def initialize(data, stores)
      @stores = stores
      @attempt_id = data.fetch(:attempt_id)
    end

    def call(_job)
      attempt = @stores.attempts.find(@attempt_id)
      @stores.grades.computed(attempt) if attempt&.over?
      {}
    end
  end
end
