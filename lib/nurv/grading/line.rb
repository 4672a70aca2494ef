# frozen_string_literal: true

module Nurv
  module Grading
    # One line of a grade: what was expected, what happened, at which moment, and what it was worth. Facts only: its
    # title and its sentences are found by Words.
    #
    # section, id, mistake [Symbol]; points, earned [Numeric]; at_s [Float, nil] simulated seconds; expected, happened
    # [Remark]; critical [Boolean, nil]; also [Array<Wrong>, nil] what else was wrong with it, in grades of before each
    # had its own line; outright [Symbol, nil] what it fails for on its own, if the policy says so
    Line =
      Struct.new(
        :section,
        :id,
        :points,
        :earned,
        :mistake,
        :at_s,
        :expected,
        :happened,
        :critical,
        :also,
        :outright,
        keyword_init: true
      ) do
        # @param data [Hash{Symbol => Object}] as #to_data has it, or as JSON gave it back; of before version 0.3 with
        #   sentences in place of remarks, which are kept as they were written
        # @return [Line]
        def self.from(data)
          new(
            **data.except(:title, :why),
            section: data[:section].to_sym,
            id: data[:id].to_sym,
            mistake: data[:mistake]&.to_sym,
            expected: remark(data[:expected]),
            happened: remark(data[:happened]),
            also: data[:also]&.map { |wrong| Wrong.from(wrong) },
            outright: data[:outright]&.to_sym
          )
        end

        def self.remark(said) =
          said.is_a?(Hash) ? Remark.from(said) : Remark.new(:as_written, text: said.to_s)
        private_class_method :remark

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

        # @return [Line] the same, as a line of the test after a repair
        def of_retest = dup.tap { |copy| copy.id = :"#{Line::RETEST}#{id}" }

        # @return [Symbol, nil] what it is called in the first test, if it is a line of the retest
        def retest_of = id.to_s.start_with?(Line::RETEST) ? id.to_s.delete_prefix(Line::RETEST).to_sym : nil

        # @return [Symbol] the step, item or part of the paper that it is about
        def about = id.to_s.delete_prefix(Line::RETEST).split(Line::ALSO).first.to_sym

        # @return [String] what it is known by in one grade, like "procedure.flush"
        def key = "#{section}.#{id}"

        # @return [Hash{Symbol => Object}] plain data, read back by .from
        def to_data = to_h.merge(expected: expected.to_h, happened: happened.to_h, also: also&.map(&:to_h)).compact
      end

    # The second and further things wrong with a step have lines of their own: the step, this, and the mistake.
    Line::ALSO = "__"
    # Lines of the test after a repair are those of the test with this before their id.
    Line::RETEST = "retest_"
  end
end
