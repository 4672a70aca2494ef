# frozen_string_literal: true

module Nurv
  module Expert
    # The report an expert writes after a run.
    class Report
      # @param outcome [Outcome] of the test
      # @param mending [Array<Array(String, String)>] part and what was done to it
      # @param again [Round, nil] the test after the repair
      # @param found [Hash{Symbol => Object}] what the tester found: line_psi, how the shutoffs stood, and time_s of the
      #   bench's clock
      def initialize(outcome, mending, again, found)
        @found = found
        @outcome = outcome
        @mending = mending
        @again = again
        @station = outcome.station
      end

      # @return [Hash{Symbol => String}]
      def fields
        verdict = @outcome.verdict
        overall = @outcome.overalls(verdict).first.to_s
        header.merge(@outcome.values, results(verdict), overall: overall, **diagnoses, **retest)
      end

      private

      def header
        plate = @station.plate
        {
          make: plate[:make],
          model: plate[:model],
          size: plate[:size],
          serial: plate[:serial],
          **meter,
          notified: @station.site.people.values.map(&:name).join(", "),
          kit_serial: @station.kit_state[:serial].to_s,
          kit_checked: @station.kit_state[:checked_on].to_s,
          line_pressure: @found.fetch(:line_psi).round.to_s,
          shutoffs_found: @found.fetch(:standing).to_s,
          condition_left: @found.fetch(:standing).to_s,
          **particulars,
          signature: "A. N. Expert"
        }
      end

      # Only where it is asked for.
      def particulars
        return {} unless @outcome.procedure.asks?(:particulars)

        order = @station.work_order
        hours, minutes = order[:arrival].split(":").map(&:to_i)
        out = (hours * 60 + minutes + @found.fetch(:time_s) / 60.0).round
        order
          .slice(*Reports::FieldReport::PARTICULARS)
          .merge(time_in: order[:arrival], time_out: format("%d:%02d", out / 60, out % 60))
      end

      def meter =
        if @station.meter
          {meter_number: @station.meter[:number].to_s, meter_reading: @station.meter[:reading].to_s}
        else
          {}
        end

      def retest
        return {} unless @again

        verdict = Reports::Verdict.new(@outcome.procedure, @again.values)
        again =
          @again
            .values
            .merge(results(verdict), overall: @outcome.overalls(verdict).first.to_s)
            .transform_keys { |key| :"#{Reports::FieldReport::RETEST}#{key}" }
        {repairs: mended, **again}
      end

      def mended =
        @mending
          .map { |part, way| "#{part.tr("_", " ")}: #{@station.catalog.repairs.fetch(way.to_sym).label.downcase}" }
          .join("; ")

      def results(verdict) = verdict.components.to_h { |component, result| [:"result_#{component}", result.to_s] }

      def diagnoses
        first, second = @outcome.diagnoses
        {diagnosis: first || "none:healthy", diagnosis_2: second}.compact
      end
    end
  end
end
