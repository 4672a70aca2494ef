# frozen_string_literal: true

module Nurv
  module Teaching
    # What has been lost by now, while a test goes on: by the same recognition and requirements as the grade, of steps
    # that are done with. It is said so that it is done again, where that is still free.
    class Risks
      # step [Symbol]; mistake [Symbol]; happened [Remark, nil] what was so instead
      Lost = Struct.new(:step, :mistake, :happened, keyword_init: true)

      # @param replay [Bench::Replay] what was done so far
      # @param truth [Expert::Truth] of this bench, as it was found
      # @param procedure [Procedures::Procedure]
      def initialize(replay, truth, procedure)
        @chronicle = Grading::Chronicle.new(replay, procedure)
        @steps = truth.steps.map { |id| procedure.step(id) }.reject(&:optional?)
        @recognition = Grading::Recognition.new(@chronicle, @steps)
        @requirements = Grading::Requirements.new(@chronicle, truth)
        @items = procedure.items.values.select(&:step).group_by(&:step)
        # Steps that were not tried as a whole, and still may be.
        @to_come = []
      end

      # @return [Array<Lost>] in the procedure's order
      def lost
        named = []
        @steps.flat_map do |step|
          found = of(step, named)
          named |= found.map(&:mistake)
          found
        end
      end

      private

      def of(step, named)
        late = @recognition.deadline(step)
        tries = @recognition.tries(step).select { |attempted| late.nil? || attempted.first <= late }
        # What is left out is for the coach to ask for; whether it is too late, the grade knows in the end.
        @to_come << step.id if tries.empty? && late.nil?
        tries = tries.select { |attempted| read?(step, attempted) } if (step.after & @to_come).any?
        return [] if tries.empty?

        best, wrongs =
          tries.map { |attempted| [attempted, @requirements.unmet(attempted, named)] }.min_by { |_, list| list.size }
        @recognition.take(best)
        return [] unless over?(best)

        wrongs.map { |wrong| Lost.new(step: step.id, mistake: wrong.mistake, happened: wrong.happened) }
      end

      # Before what comes first is done a bench may stand for a moment as it will for a reading: only who writes one
      # down has taken it.
      def read?(step, attempted) =
        @items.fetch(step.id, []).any? { |item| @chronicle.note_in(item.id, attempted) }

      # Something has been done since it ended, so what it was like will not change.
      def over?(attempted) = attempted.last < @chronicle.size - 1
    end
  end
end
