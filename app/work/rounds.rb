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

    def go(wall_ms)
      hand_in(wall_ms)
      open_exams
    end

    private

    def hand_in(wall_ms)
      late = @stores.attempts.under_exam.select { |attempt| attempt.overdue?(wall_ms) }
      @keeper.hand_in(late, wall_ms) if late.any?
    end

    def open_exams
      @stores.exams.due.each do |exam|
        @stores.exams.open(exam, @stores.classes.members_of(exam.class_id))
        @stores.audits.note(
          @stores.users.find(exam.owner_id),
          "opened by the clock",
          "exam #{exam.id}",
          exam.title
        )
      end
    end
  end
end
