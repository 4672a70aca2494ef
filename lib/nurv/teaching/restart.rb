# frozen_string_literal: true

module Nurv
  module Teaching
    # Where to take a bench up again to do a lost line better: just before the step that it is about had its turn. What
    # was done up to there stays the tester's own.
    class Restart
      # @param replay [Bench::Replay] of what was handed in
      # @param grade [Grading::Grade]
      def initialize(replay, grade)
        @procedure = grade.procedure
        @chronicle = Grading::Chronicle.new(replay, @procedure)
        steps = @procedure.steps.select { |step| step.only.empty? || grade.lines.any? { |line| line.about == step.id } }
        @recognition = Grading::Recognition.new(@chronicle, steps)
        steps.each { |step| @recognition.tries(step).first&.then { |attempted| @recognition.take(attempted) } }
      end

      # @param line [Grading::Line] one that was lost
      # @return [Integer] how many acts are done again; all but handing in where paper is what was wrong
      def acts(line)
        step = step_of(line) or return before_handing_in
        [turn_of(step), moment_of(line), before_handing_in].compact.min
      end

      private

      def step_of(line)
        return @procedure.step(line.about) if line.section == :procedure

        (line.section == :readings) ? @procedure.step(@procedure.items[line.about]&.step) : nil
      end

      def before_handing_in =
        (0...@chronicle.size).find { |index| @chronicle.action(index).kind == :submit } || @chronicle.size

      # Just after what comes before it; without such, before it was too late for it.
      def turn_of(step)
        since = @recognition.turn_of(step)
        since.positive? ? since + 1 : @recognition.deadline(step)
      end

      # The act at which it went wrong.
      def moment_of(line)
        return unless line.at_s

        (0...@chronicle.size).find { |index| @chronicle.from_s(index) >= line.at_s - 0.01 }
      end
    end
  end
end
