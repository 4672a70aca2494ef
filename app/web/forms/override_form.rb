# frozen_string_literal: true

module Web
  # Other points for one line of a grade, with a reason.
  class OverrideForm < Form
    def initialize(raw, grade)
      super(raw)
      @grade = grade
    end

    def line = @grade.lines.find { |item| item.key == self[:line] }

    def earned = number(:earned).to_f

    private

    def check
      return @errors[:line] = "That line is not in this grade." unless line

      decimal(:earned, 0..line.points, "Enter the points from 0 to #{format("%g", line.points)}.")
      need(:reason, "Say why, so that it can be explained later.", most: 500)
    end
  end
end
