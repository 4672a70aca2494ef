# frozen_string_literal: true

module Work
  # What the clock brings: benches whose time is over are handed in, exams open at the time that was set.
  class Rounds
    # @param stores [Store::Cabinet]
    # @param keeper [Benches::Keeper]
    def initialize(stores, keeper)
      @stores = stores
      @keeper = keeper
    end

    # One thing that fails keeps nothing else from being done.
    def go(wall_ms)
      hand_in(wall_ms)
      @stores.exams.due.each { |exam| open_exam(exam) }
    end

    private

    def hand_in(wall_ms)
      late = @stores.attempts.under_exam.select { |attempt| attempt.overdue?(wall_ms) }
      @keeper.hand_in(late, wall_ms) if late.any?
    end

    def open_exam(exam)
      @stores.exams.open(exam, @stores.classes.members_of(exam.class_id))
      @stores.audits.note(@stores.users.find(exam.owner_id), "opened by the clock", "exam #{exam.id}", exam.title)
    rescue => error
      warn "exam #{exam.id} did not open: #{error.class}: #{error.message.lines.first&.strip}"
      # A busy database passes by itself; anything else is for its owner to see to.
      give_up(exam) unless Store::Trouble.passing?(error)
    end

    def give_up(exam)
      @stores.exams.could_not_open(
        exam,
        "It could not be opened at the time you set. Check its stations, then open it by hand."
      )
    rescue Sequel::DatabaseError => error
      warn "exam #{exam.id}: #{error.message.lines.first&.strip}"
    end
  end
end
