# frozen_string_literal: true

module Nurv
  module Grading
    # Marks verdicts against the limits and the tester's own readings, the overall result, and the diagnosis.
    class JudgementMarks
      # @param truth [Expert::Truth]
      # @param report [Reports::FieldReport]
      def initialize(truth, report)
        @truth = truth
        @report = report
      end

      # @return [Array<Line>]
      def lines = results + [diagnosis]

      # Without the diagnosis, as after a repair.
      def results = components + [overall]

      private

      def components
        wanted = @report.verdict.components
        wanted.map do |component, result|
          given = @report.result(component)
          build(
            :"result_#{component}",
            "#{Words::COMPONENTS[component]}: pass or fail",
            10,
            given == result,
            :wrong_verdict,
            "“#{words(result)}”, from the readings recorded.",
            "Recorded “#{words(given)}”."
          )
        end
      end

      def overall
        wanted = @report.verdict.overall
        build(
          :overall,
          "Overall result",
          10,
          @report.overall == wanted,
          :wrong_overall,
          "“#{words(wanted)}”.",
          "Recorded “#{words(@report.overall)}”."
        )
      end

      def diagnosis
        faults = @truth.faults
        given = @report.diagnoses
        named = @report.fields[:diagnosis].to_s != ""
        right = named && given.sort == faults.sort
        build(
          :diagnosis,
          "Diagnosis",
          20,
          right,
          mistake_of(given, faults),
          "#{describe(faults)}.",
          named ? "Named: #{describe(given)}." : "Nothing is named."
        )
      end

      def mistake_of(given, faults)
        leaking_shutoff = faults.include?("shutoff_valve_2:leaks_with_demand")
        if leaking_shutoff && given.any? { |name| name.start_with?("relief_valve") }
          :shutoff_called_relief
        else
          :wrong_diagnosis
        end
      end

      def describe(names)
        return "nothing wrong" if names.empty?

        names
          .map do |name|
            component, reason = name.split(":").map(&:to_sym)
            "#{Words::COMPONENTS.fetch(component, component)} #{Words::REASONS.fetch(reason, reason)}"
          end
          .join("; ")
      end

      def words(result) = result.nil? ? "nothing" : result.to_s.tr("_", " ")

      def build(id, title, points, right, mistake, expected, happened)
        Line.new(
          section: :judgement,
          id: id,
          title: title,
          points: points,
          earned: right ? points : 0,
          mistake: right ? nil : mistake,
          expected: expected,
          happened: happened,
          why: @truth.station.catalog.mistakes.fetch(mistake).why
        )
      end
    end
  end
end
