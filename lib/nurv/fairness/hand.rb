# frozen_string_literal: true

module Nurv
  module Fairness
    # A tester who works to a procedure in a way of their own: the steps' acts are changed, everything that is read is
    # read honestly at the bench that came of it, and the report is written from that.
    class Hand
      # @param variant [Stations::Variant]
      # @param procedure [Procedures::Procedure] to be graded by
      def initialize(variant, procedure)
        @variant = variant
        @procedure = procedure
      end

      # @param steps [Array<Symbol>] that are worked through, whatever is seen on the way
      # @param order [Array<Symbol>, nil] of all steps; as in the data, without it
      # @yieldparam id [Symbol] of a step
      # @yieldparam acts [Array<Hash>] its acts
      # @yieldreturn [Array<Hash>] acts to be done instead
      # @return [Array<Hash>] acts of a log
      # @raise [RefusedAction] where it cannot be done
      def log(order: nil, steps: truth.steps, &change)
        bent = @procedure.acted(steps) { |id, acts| change ? change.call(id, acts) : acts }
        bent = bent.ordered(order) if order
        told_truth(Expert::Tester.new(@variant, bent).run.log.actions.map(&:to_h))
      end

      # @param acts [Array<Hash>]
      # @return [Grading::Grade]
      # @raise [RefusedAction]
      def grade(acts, policy: nil)
        log = Bench::Log.new(acts.map { |act| Bench::Action.new(act) })
        Grading::Grader.grade(@variant, log, procedure: @procedure, policy: policy)
      end

      # @param title [String]
      # @param wanted [Array<Symbol>] mistakes planted in it
      # @return [Trial, nil] nil where the bench refuses it
      def trial(title, acts, wanted = [])
        graded = grade(acts)
        Trial.new(
          procedure: @procedure.id.to_s,
          title: title,
          wanted: wanted,
          got: graded.mistakes,
          score: graded.score
        )
      rescue RefusedAction
        nil
      end

      # @param acts [Array<Hash>]
      # @param time_s [Float]
      # @return [Float] psid, as the needle stood
      def needle_at(acts, time_s) =
        Bench::Replay.new(@variant, Bench::Log.new(acts.map { |act| Bench::Action.new(act) })).needle_at(time_s)

      # @param level [String] a name of the procedure's
      # @return [Float] inches above the pipe's centre line
      def level_in(level) = @variant.station.assembly.levels.fetch(level.to_sym).elevation_in

      # @return [Expert::Truth]
      def truth = Expert::Truth.of(@variant, @procedure)

      private

      # Whatever a mistake made of the readings, what is wrong here is known, and what it makes of the whole: the
      # diagnosis is not what is tried.
      def told_truth(acts)
        first, second = truth.faults
        wanted = {diagnosis: first || "none:healthy", overall: truth.overalls(verdict(acts)).first.to_s}
        acts
          .reject { |act| fills?(act, :diagnosis_2) }
          .map { |act| told(act, wanted) }
          .then { |list| second ? with_second(list, second) : list }
      end

      def told(act, wanted)
        field = wanted.keys.find { |name| fills?(act, name) }
        field ? act.merge(value: wanted[field]) : act
      end

      def fills?(act, field) = act[:kind] == "fill" && act[:field] == field.to_s

      def verdict(acts)
        fields = acts.select { |act| act[:kind] == "fill" }.to_h { |act| [act[:field].to_sym, act[:value]] }
        Reports::FieldReport.new(@procedure, fields).verdict
      end

      def with_second(acts, second)
        at = acts.index { |act| act[:field] == "diagnosis" }
        acts.dup.insert(at + 1, {**acts[at], field: "diagnosis_2", value: second, id: "#{acts[at][:id]}b"})
      end
    end
  end
end
