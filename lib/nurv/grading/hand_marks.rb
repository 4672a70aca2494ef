# frozen_string_literal: true

module Nurv
  module Grading
    # Marks steps as a proctor tapped them beside a real bench: done, wrong, or out of order. It stands where
    # StepMarks stands.
    class HandMarks
      AS = {done: nil, wrong: :marked_wrong, out_of_order: :marked_out_of_order}.freeze

      # @param chronicle [Chronicle]
      # @param truth [Expert::Truth]
      # @yield [step] which of the steps called for are looked for here; all, without a block
      def initialize(chronicle, truth, &wanted)
        @chronicle = chronicle
        @steps = truth.steps.map { |id| chronicle.procedure.step(id) }.select(&wanted || :itself)
        @marks =
          (0...chronicle.size)
            .map { |index| chronicle.action(index) }
            .select { |action| action.kind == :mark }
            .group_by { |action| action.named(:step) }
      end

      # @return [Array<Line>] the last mark of a step counts
      def lines = @steps.map { |step| line(step, @marks[step.id]&.last) }

      # No gauge was on record, so a reading has no passage of its own.
      def tries(_step) = []

      # @param step [Procedures::Step]
      # @return [Boolean] the proctor saw something of it
      def tried?(step) = @marks.key?(step.id)

      # @return [Boolean] nothing was on record but a proctor's word
      def by_hand? = true

      private

      def line(step, mark)
        as = mark ? mark.named(:as) : :left_out
        mistake = (as == :left_out) ? step.missed : AS.fetch(as)
        earned = {done: step.points, out_of_order: step.points / 2.0}.fetch(as, 0)
        Line.new(
          section: :procedure,
          id: step.id,
          points: step.points,
          earned: earned,
          mistake: mistake,
          at_s: mark&.time_s,
          expected: Remark.new(:step_done, step: step.id),
          critical: step.critical?,
          happened: mark ? Remark.new(:marked, as: as) : Remark.new(:not_marked)
        )
      end
    end
  end
end
