# frozen_string_literal: true

module Nurv
  module Grading
    # The outcome: every line, the score by weight, and whether it passes.
    class Grade
      attr_reader :lines, :policy, :procedure, :went_back_ml

      # @param lines [Array<Line>]
      # @param went_back_ml [Float, nil] downstream water that passed check valve 1 towards the supply meanwhile; nil
      #   for a grade of before that was known
      def initialize(lines, policy, procedure, went_back_ml: nil)
        @lines = lines.freeze
        @policy = policy
        @procedure = procedure
        @went_back_ml = went_back_ml
        freeze
      end

      # @param name [Symbol] one of Policy::SECTIONS
      # @return [Array<Line>]
      def section(name) = lines.select { |line| line.section == name }

      # @return [Float] share of a section's points, at most 1; below 0 where more was taken away than there was to
      #   earn; a section with no lines is full
      def share(name)
        possible = section(name).sum(&:points)
        return (section(name).sum(&:earned).negative? ? -1.0 : 1.0) if possible.zero?

        section(name).sum(&:earned) / possible.to_f
      end

      # @return [Float] 0..100, to a tenth
      def score
        total = policy.weights.values.sum
        (policy.weights.sum { |name, weight| share(name) * weight } / total * 100.0).round(1).clamp(0.0, 100.0)
      end

      # @return [Array<Symbol>] each once, in the order of the lines
      def mistakes = lines.select(&:lost?).map(&:mistake).compact.uniq

      # Mistakes that fail on their own: those the policy names, and critical steps left out if it says so. Of what has
      # a mark of its own in the policy, that mark decides.
      #
      # @return [Array<Symbol>]
      def failed_outright
        critical = policy.critical_fails? ? lines.select(&:critical_lost?).filter_map(&:mistake) : []
        named = mistakes | lines.filter_map(&:outright)
        (named & policy.fail_outright) | (critical - Policy::OUTRIGHT)
      end

      # So near to the pass mark, points, a second look is worth it.
      NEAR = 3.0

      # @return [Boolean]
      def near_pass_mark? = (score - policy.pass_mark).abs <= NEAR

      # @return [Boolean] enough points, and nothing that fails on its own
      def pass? = score >= policy.pass_mark && failed_outright.empty?

      # The same lines weighed by another policy.
      #
      # @return [Grade, nil] nil where the lines themselves depend on what differs: tolerance, or the procedures
      def under(other) =
        if other.tolerance_psid == policy.tolerance_psid && other.procedures == policy.procedures
          Grade.new(lines, other, procedure, went_back_ml: went_back_ml)
        end

      # The same grade with some lines marked otherwise.
      #
      # @param points [Hash{String => Float}] key of a line => points earned
      # @return [Grade]
      def overridden(points)
        return self if points.empty?

        Grade.new(
          lines.map { |line| points.key?(line.key) ? line.otherwise(points[line.key]) : line },
          policy,
          procedure,
          went_back_ml: went_back_ml
        )
      end

      # @return [Boolean] more downstream water went back than a rounding error moves
      def went_back? = went_back_ml.to_f > 0.5

      # @return [String] JSON, to be read back by .load
      def dump = JSON.generate(procedure: procedure.id, lines: lines.map(&:to_data), went_back_ml: went_back_ml)

      # @param procedures [Array<Procedures::Procedure>] one of them is the grade's
      # @return [Grade]
      def self.load(text, policy, procedures)
        data = JSON.parse(text, symbolize_names: true)
        new(
          data[:lines].map { |line| Line.from(line) },
          policy,
          procedures.find { |item| item.id.to_s == data[:procedure] } || procedures.first,
          went_back_ml: data[:went_back_ml]
        )
      end
    end
  end
end
