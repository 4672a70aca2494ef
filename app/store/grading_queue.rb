# frozen_string_literal: true

module Store
  # Grades what is handed in as soon as there is time for it, so that nobody waits for it later. Losing it loses nothing: a grade
  # that is not kept is worked out when it is asked for.
  module GradingQueue
    QUEUE = Queue.new
    LOCK = Mutex.new
    private_constant :QUEUE, :LOCK

    module_function

    # @param attempt_id [Integer]
    def push(attempt_id)
      return unless SETTINGS.production?

      QUEUE << attempt_id
      LOCK.synchronize { @worker = Thread.new { work } unless @worker&.alive? }
    end

    def work
      Thread.current.priority = -2
      loop do
        attempt = Attempts.new.find(QUEUE.pop)
        Grades.new.computed(attempt) if attempt&.over?
      rescue Nurv::Error, Sequel::Error => error
        warn "grading: #{error.message}"
      end
    end
  end
end
