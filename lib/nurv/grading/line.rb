# frozen_string_literal: true

module Nurv
  module Grading
    # One line of a grade: what was expected, what happened, at which moment, and what it was worth.
    Line = Struct.new(:section, :id, :title, :points, :earned, :mistake, :at_s, :expected, :happened, :why, keyword_init: true) do
      def full? = earned >= points

      def lost? = !full?

      def key = "#{section}.#{id}"
    end
  end
end
