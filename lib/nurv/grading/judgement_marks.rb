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
            10,
            given == result,
            :wrong_verdict,
            Remark.new(:result_from_readings, result: result),
            Remark.new(:recorded_result, result: given)
          )
        end
      end

      def overall
        wanted = @report.verdict.overall
        build(
          :overall,
          10,
          @report.overall == wanted,
          :wrong_overall,
          Remark.new(:overall_result, result: wanted),
          Remark.new(:recorded_result, result: @report.overall)
        )
      end

      def diagnosis
        faults = @truth.faults
        given = @report.diagnoses
        named = @report.fields[:diagnosis].to_s != ""
        right = named && given.sort == faults.sort
        build(
          :diagnosis,
          20,
          right,
          mistake_of(given, faults),
          Remark.new(:diagnosis, diagnoses: faults),
          named ? Remark.new(:diagnosis_named, diagnoses: given) : Remark.new(:nothing_named)
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

      def build(id, points, right, mistake, expected, happened)
        Line.new(
          section: :judgement,
          id: id,
          points: points,
          earned: right ? points : 0,
          mistake: right ? nil : mistake,
          expected: expected,
          happened: happened
        )
      end
    end
  end
end
