# frozen_string_literal: true

module Work
  # One attempt whose kept grade is of older water, by the water of today. The old grade stands until the new one is
  # there.
  class GradingAgain
    # @param data [Hash] of the job
    # @param stores [Store::Cabinet]
    def initialize(data, stores)
      @stores = stores
      @attempt_id = data.fetch(:attempt_id)
    end

    def call(job)
      attempt = @stores.attempts.find(@attempt_id)
      before = @stores.grades.computed(attempt).score
      after = @stores.grades.renew(attempt).score
      owner = @stores.users.find(job.owner_id)
      @stores.audits.note(owner, "graded again", "attempt #{@attempt_id}", "#{before} before, #{after} after")
      {
        to: "/attempts/#{@attempt_id}/result",
        words: (before == after) ? "Graded again: nothing changes." : "Graded again: #{before} before, #{after} now."
      }
    end
  end
end
