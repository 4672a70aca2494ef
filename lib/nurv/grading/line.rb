# frozen_string_literal: true

module Nurv
  module Grading
    # One line of a grade: what was expected, what happened, at which moment, and what it was worth.
    Line =
      Struct.new(
        :section,
        :id,
        :title,
        :points,
        :earned,
        :mistake,
        :at_s,
        :expected,
        :happened,
        :why,
        :critical,
        keyword_init: true
      ) do
        # Left out altogether, or as good as.
        def critical_lost? = !!critical && earned.zero? && points.positive?

        # @return [Boolean] nothing was lost
        def full? = earned >= points

        # @return [Boolean] something was lost
        def lost? = !full?

        # As an instructor sees it: other points, and with full points no mistake.
        def otherwise(points)
          dup.tap do |copy|
            copy.earned = points
            copy.mistake = nil if points >= copy.points
          end
        end

        # @return [String] what it is known by in one grade, like "procedure.flush"
        def key = "#{section}.#{id}"
      end
  end
end
