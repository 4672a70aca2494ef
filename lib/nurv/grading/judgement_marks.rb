# frozen_string_literal: true

module Nurv
  module Grading
    # Marks verdicts against the limits and the tester's own readings, the overall result, and the diagnosis. Each earns
    # only where what it judges stood at the bench.
    class JudgementMarks
      # @param truth [Expert::Truth]
      # @param report [Reports::FieldReport]
      # @param readings [ReadingMarks] of the same test
      def initialize(truth, report, readings)
        @truth = truth
        @report = report
        @readings = readings
        @wanted = report.verdict
      end

      # @return [Array<Line>]
      def lines = results + [diagnosis]

      # Without the diagnosis, as after a repair.
      def results = components.map { |component, result| component_line(component, result) } + [overall]

      private

      def components = @wanted.components

      def component_line(component, result)
        given = @report.result(component)
        right = given == result || as_in_truth?(component, given)
        build(
          :"result_#{component}",
          10,
          right ? nil : :wrong_verdict,
          Remark.new(:result_from_readings, result: result),
          Remark.new(:recorded_result, result: given),
          counts: given == result && counts?(component, result),
          outright: (:failing_passed if failing_passed?(component, given, result))
        )
      end

      # Right for this assembly, though it does not follow from what is recorded, which is marked where it is wrong.
      def as_in_truth?(component, given) = given == @truth.verdict.components[component] && !all_sound?

      # What was judged had been tested, or was not to be tested here.
      def counts?(component, result)
        return true if @truth.stopped? || @readings.stood?(component)

        result == :not_tested && @truth.verdict.components[component] == :not_tested && begun?
      end

      def begun? = @readings.begun?

      # Passed, and a correct tester fails it: forgiven only to one whose own readings, rightly recorded, say so.
      def failing_passed?(component, given, result) =
        given == :pass && @truth.verdict.components[component] == :fail &&
          !(result == :pass && @readings.sound?(component))

      def overall
        given = @report.overall
        accepted = @truth.overalls(@report.verdict)
        follows = accepted.include?(given)
        right = follows || (@readings.lines.any?(&:lost?) && @truth.overalls(@truth.verdict).include?(given))
        build(
          :overall,
          10,
          right ? nil : :wrong_overall,
          Remark.new(:overall_result, results: accepted),
          Remark.new(:recorded_result, result: given),
          counts: follows && all_count? && !contradicted?,
          outright: (:failing_passed if given == :pass && !may_pass? && !excused?)
        )
      end

      def may_pass? = @truth.overalls(@truth.verdict).include?(:pass)

      # All that was read and seen here was rightly recorded, and says that it passes.
      def excused? = @wanted.overall == :pass && all_sound?

      def all_count? = components.all? { |component, result| counts?(component, result) }

      # The verdicts of the parts, as they were given, would make another whole.
      def contradicted? =
        components.any? { |component, result| opposite?(@report.result(component), result) }

      def opposite?(given, wanted) = [given, wanted].sort_by(&:to_s) == %i[fail pass]

      def diagnosis
        given = @report.diagnoses
        named = @report.fields[:diagnosis].to_s != ""
        right = named && accepted_diagnoses.include?(given.sort)
        build(
          :diagnosis,
          20,
          right ? nil : mistake_of(given),
          Remark.new(:diagnosis, diagnoses: @truth.faults),
          named ? Remark.new(:diagnosis_named, diagnoses: given) : Remark.new(:nothing_named),
          counts: diagnosis_counts?(given) && !contradicted?
        )
      end

      # What is there, and what follows from readings that were rightly recorded: within tolerance a reading may stand
      # on the other side of its limit.
      def accepted_diagnoses =
        [@truth.faults, (@truth.diagnoses_from(@report.values) if all_sound?), @truth.diagnoses]
          .compact
          .map(&:sort)
          .uniq

      def all_sound? = @readings.lines.none?(&:lost?)

      # “Nothing wrong” is said of all that was tested; a fault may be named by whoever tested anything.
      def diagnosis_counts?(given)
        return true if @truth.stopped?

        given.empty? ? all_count? : begun?
      end

      def mistake_of(given)
        leaking_shutoff = @truth.faults.include?("shutoff_valve_2:leaks_with_demand")
        if leaking_shutoff && given.any? { |name| name.start_with?("relief_valve") }
          :shutoff_called_relief
        elsif given.any? { |name| weeps?(name) }
          :weep_called_leak
        else
          :wrong_diagnosis
        end
      end

      # It stops when it is tightened.
      def weeps?(name) =
        !@truth.faults.include?(name) && @truth.station.weeping.any? { |valve| name.start_with?("#{valve}:") }

      # @param mistake [Symbol, nil]
      # @param counts [Boolean] what it judges stood at the bench
      def build(id, points, mistake, expected, happened, counts:, outright: nil)
        unseen = mistake.nil? && !counts
        Line.new(
          section: :judgement,
          id: id,
          points: points,
          earned: (mistake || unseen) ? 0 : points,
          mistake: mistake,
          expected: expected,
          happened: unseen ? Remark.new(:judged_unseen, **happened.values) : happened,
          outright: outright
        )
      end
    end
  end
end
