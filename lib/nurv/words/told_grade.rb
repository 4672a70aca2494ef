# frozen_string_literal: true

module Nurv
  class Words
    # A grade in words: its lines with their titles and sentences.
    class ToldGrade
      attr_reader :grade

      # @param grade [Grading::Grade]
      # @param catalog [Catalog] that it was worked out by
      def initialize(grade, catalog)
        @grade = grade
        @catalog = catalog
        procedure = grade.procedure
        @about =
          About.new(
            procedure: procedure,
            assembly: catalog.assemblies.fetch(procedure.assembly),
            repairs: catalog.repairs,
            unit: grade.policy.unit
          )
      end

      # @return [Array<ToldLine>]
      def lines = grade.lines.map { |line| tell(line) }

      # @param name [Symbol] one of Policy::SECTIONS
      # @return [Array<ToldLine>]
      def section(name) = grade.section(name).map { |line| tell(line) }

      # @param line [Grading::Line]
      # @return [ToldLine]
      def tell(line) = ToldLine.new(line, @catalog.words, @about, @catalog.findings)

      # @return [Hash{Symbol => Object}] as `bin/nurv grade --json` prints it
      def to_h
        {
          procedure: grade.procedure.id,
          policy: grade.policy.id,
          score: grade.score,
          pass: grade.pass?,
          failed_outright: grade.failed_outright,
          lines: lines.map(&:to_data)
        }
      end
    end
  end
end
