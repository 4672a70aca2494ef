# frozen_string_literal: true

module Nurv
  class CommandLine
    # A truth as text or data.
    class TruthSheet
      # @param truth [Expert::Truth]
      # @param words [Words]
      def initialize(truth, words)
        @truth = truth
        @words = words
      end

      # @return [Hash{Symbol => Object}] readings in psid as written, times in seconds
      def to_h
        {
          procedure: @truth.procedure.id,
          values: @truth.values,
          components: @truth.verdict.components,
          overall: @truth.verdict.overall,
          diagnoses: @truth.diagnoses,
          faults: @truth.faults,
          solvable: @truth.solvable?,
          buffer_psid: @truth.buffer_psid,
          seconds: @truth.run.end_s
        }
      end

      # @return [String] several lines, with a line break at the end
      def to_s
        rows =
          @truth.procedure.items.values.filter_map do |item|
            [item.label, @truth.values[item.id]] if @truth.values.key?(item.id)
          end
        rows += @truth.verdict.components.map { |component, result| [@words.part(component), result] }
        rows << ["Overall", @truth.verdict.overall]
        rows << ["Buffer", @truth.buffer_psid] if @truth.buffer_psid
        rows << ["Diagnosis", @truth.diagnoses.empty? ? "nothing wrong" : @truth.diagnoses.join(", ")]
        if @truth.repairs?
          rows << ["Mends", @truth.mending.map { |part, way| "#{part} #{way}" }.join(", ")] <<
            ["Retest", @truth.run.retest_values.values.join(", ")]
        end
        rows << ["Found?", @truth.solvable? ? "yes" : "no: really #{@truth.faults.join(", ")}"]
        [
          "#{@truth.procedure.title}\n",
          *rows.map { |label, value| format("  %-32s %s\n", label, value.to_s.tr("_", " ")) }
        ].join
      end
    end
  end
end
