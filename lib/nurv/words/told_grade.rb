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

      # @param remark [Remark]
      # @return [String] with the names and the unit of this grade's bench
      def say(remark) = @catalog.words.tell(remark, @about)

      # @param bill [Teaching::Cost::Bill]
      # @return [Array<String>] what each error cost, and what all of them did together
      def bill(bill)
        each = bill.causes.map { |cause| say(cost(cause)) }
        whole = Remark.new(:cost_right, psid: bill.right_psid, shown_psid: bill.shown_psid)
        leaning = bill.lean? ? [say(Remark.new(:cost_leans, by_psid: bill.together_psid))] : []
        [*each, *leaning, say(whole)]
      end

      # @param cause [Teaching::Cost::Cause]
      def cost(cause)
        return Remark.new(:cost_zero, by_psid: cause.psid) if cause.mistake == :gauge_off_zero

        Remark.new(:cost_of, mistake: cause.mistake, by_psid: cause.psid)
      end
      private :cost

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
