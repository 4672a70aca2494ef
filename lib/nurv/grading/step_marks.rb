# frozen_string_literal: true

module Nurv
  module Grading
    # Marks the steps a correct tester would have taken: where each was tried, whether in time, and all that was wrong
    # with it.
    class StepMarks
      # @param chronicle [Chronicle]
      # @param truth [Expert::Truth]
      # @yield [step] which of the steps called for are looked for here; all, without a block
      def initialize(chronicle, truth, &wanted)
        @chronicle = chronicle
        @steps = truth.steps.map { |id| chronicle.procedure.step(id) }.select(&wanted || :itself)
        @recognition = Recognition.new(chronicle)
        @requirements = Requirements.new(chronicle, truth)
        @named = []
      end

      # @return [Array<Line>]
      def lines = @lines ||= @steps.filter_map { |step| mark(step)&.tap { |line| @named |= [line.mistake].compact } }

      # Every passage over which a step's situation held: where its reading may have been taken.
      def situations(step)
        lines
        @recognition.situations(step)
      end

      # A gauge was on record.
      def by_hand? = false

      private

      def mark(step)
        late = @recognition.deadline(step)
        attempted, wrongs = best_try(step, late)
        return (missed(step, nil, :not_done) unless step.optional?) unless attempted

        @recognition.take(attempted)
        return missed(step, @chronicle.end_s, :not_in_time) unless @recognition.kept_to_the_end?(step)
        return missed(step, @chronicle.from_s(late), :not_in_time) if late && attempted.first > late

        done(step, attempted, wrongs)
      end

      # Starting over is good practice, so the best try in time counts; after that, the first.
      #
      # @return [Array(Attempted, Array<Wrong>), nil]
      def best_try(step, late)
        all = @recognition.tries(step)
        in_time = late ? all.select { |attempted| attempted.first <= late } : all
        (in_time.any? ? in_time : all.first(1))
          .map { |attempted| [attempted, @requirements.unmet(attempted, @named)] }
          .min_by
          .with_index { |(_, wrongs), order| [wrongs.size, order] }
      end

      # The first thing wrong gives the line its name; each of them costs half its points.
      def done(step, attempted, wrongs)
        first, *also = wrongs
        line(
          step,
          earned: first ? [step.points - step.points * wrongs.size / 2.0, 0].max : step.points,
          mistake: first&.mistake,
          at_s: first ? first.at_s : attempted.from_s,
          happened: first ? first.happened : Remark.new(:done),
          also: also.empty? ? nil : also
        )
      end

      def missed(step, moment, how) =
        line(step, earned: 0, mistake: step.missed, at_s: moment, happened: Remark.new(how))

      def line(step, **marks) =
        Line.new(
          section: :procedure,
          id: step.id,
          points: step.points,
          expected: Remark.new(:step_done, step: step.id),
          critical: step.critical?,
          **marks
        )
    end
  end
end
