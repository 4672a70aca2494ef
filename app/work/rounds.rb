# frozen_string_literal: true

module Work
  # What the clock brings: benches whose time is over are handed in, exams open at the time that was set.
  class Rounds
    def initialize(database = DB)
      @database = database
      @attempts = Store::Attempts.new(database)
      @exams = Store::Exams.new(database)
    end

    def go(wall_ms)
      hand_in(wall_ms)
      open_exams
    end

    private

    def hand_in(wall_ms)
      late = @attempts.under_exam.select { |attempt| attempt.overdue?(wall_ms) }
      @attempts.hand_in(late, wall_ms) if late.any?
    end

    def open_exams
      @exams.due.each do |exam|
        @exams.open(exam, Store::Classes.new(@database).members_of(exam.class_id))
        Store::Audits.new(@database).note(
          Store::Users.new(@database).find(exam.owner_id),
          "opened by the clock",
          "exam #{exam.id}",
          exam.title
        )
      end
    end
  end
end
