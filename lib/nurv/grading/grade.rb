# frozen_string_literal: true

module Nurv
  module Grading
    # The outcome: every line, the score by weight, and whether it passes.
    class Grade
      attr_reader :lines, :policy, :procedure

      # @param lines [Array<Line>]
      def initialize(lines, policy, procedure)
        @lines = lines.freeze
        @policy = policy
        @procedure = procedure
        freeze
      end

      def section(name) = lines.select { |line| line.section == name }

      # @return [Float] share of a section's points, 0..1; a section with no lines is full
      def share(name)
        possible = section(name).sum(&:points)
        possible.zero? ? 1.0 : section(name).sum(&:earned) / possible.to_f
      end

      # @return [Float] 0..100, to a tenth
      def score
        total = policy.weights.values.sum
        (policy.weights.sum { |name, weight| share(name) * weight } / total * 100.0).round(1)
      end

      def mistakes = lines.select(&:lost?).map(&:mistake).compact.uniq

      def failed_outright = mistakes & policy.fail_outright

      def pass? = score >= policy.pass_mark && failed_outright.empty?

      def to_h
        {procedure: procedure.id, policy: policy.id, score: score, pass: pass?, failed_outright: failed_outright,
         lines: lines.map(&:to_h)}
      end
    end
  end
end
