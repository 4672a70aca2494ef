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
        @called_for = truth.steps.map { |id| chronicle.procedure.step(id) }
        @wanted = wanted || :itself.to_proc
        @recognition = Recognition.new(chronicle, @called_for)
        @requirements = Requirements.new(chronicle, truth)
        @named = []
        @missed = []
      end

      # @return [Array<Line>] of each step one, and one for each thing that was wrong with it beyond the first
      def lines = @lines ||= @called_for.select(&@wanted).flat_map { |step| mark(step) }

      # Every try of a step in its turn: where its reading may have been taken.
      #
      # @param step [Procedures::Step]
      # @return [Array<Attempted>]
      def tries(step)
        lines
        (@tries ||= {})[step.id] ||= @recognition.tries(step)
      end

      # @param step [Procedures::Step]
      # @return [Boolean] its situation stood at the bench, in its turn
      def tried?(step) = tries(step).any?

      # @param step [Procedures::Step]
      # @return [Boolean] it lost points
      def marked_down?(step) = lines.any? { |line| line.about == step.id && line.lost? }

      # A gauge was on record.
      def by_hand? = false

      private

      def mark(step)
        late = @recognition.deadline(step)
        attempted, wrongs = best_try(step, late)
        return not_done(step, late) unless attempted

        @recognition.take(attempted)
        unless @recognition.kept_to_the_end?(step)
          return [missed(step, @chronicle.end_s, @recognition.not_kept(step) || Remark.new(:not_in_time))]
        end

        done(step, attempted, wrongs)
      end

      # Starting over is good practice, so the best try in time counts.
      #
      # @return [Array(Attempted, Array<Wrong>), nil]
      def best_try(step, late)
        @recognition
          .tries(step)
          .select { |attempted| late.nil? || attempted.first <= late }
          .map { |attempted| [attempted, @requirements.unmet(attempted, @named)] }
          .min_by
          .with_index { |(_, wrongs), order| [wrongs.size, order] }
      end

      # Each thing wrong costs half of the step's points, as far as they go, and has a line of its own.
      def done(step, attempted, wrongs)
        @named |= wrongs.map(&:mistake)
        first, *others = wrongs
        share = others.empty? ? 0 : (step.points / 2.0 / others.size).round(2)
        own = step.points - share * others.size
        kept = {0 => own, 1 => own / 2.0}.fetch(wrongs.size, 0)
        main =
          line(
            step,
            points: own,
            earned: kept,
            mistake: first&.mistake,
            at_s: first ? first.at_s : attempted.from_s,
            critical: first ? false : step.critical?,
            happened: first ? first.happened : Remark.new(:done)
          )
        [main, *others.map { |wrong| other_line(step, wrong, share) }]
      end

      def other_line(step, wrong, share) =
        line(
          step,
          id: :"#{step.id}#{Line::ALSO}#{wrong.mistake}",
          points: share,
          earned: 0,
          mistake: wrong.mistake,
          at_s: wrong.at_s,
          critical: false,
          happened: wrong.happened
        )

      # Begun in time, it gives what comes after it its place; done too late, it does not.
      def not_done(step, late)
        return [] if step.optional?

        half = @recognition.half(step)
        half = nil if half && late && half.first > late
        @recognition.take(half) if half
        [unnamed(step) || (half ? half_done(step, half) : left_out(step, late))]
      end

      def half_done(step, half) = missed(step, half.from_s, half.lacking || Remark.new(:not_done))

      def left_out(step, late)
        part = @recognition.part_done(step, late)
        return missed(step, nil, part, part: true) if part
        return missed(step, nil, Remark.new(:not_done)) unless late && @recognition.tries(step).any?

        missed(step, @chronicle.from_s(late), Remark.new(:not_in_time))
      end

      # Left out for want of a step before it, or spoilt by what was wrong before, it costs its points and is not named
      # a second time.
      def unnamed(step)
        cause = step.follows_from.find { |id| @missed.include?(id) }
        spoiler = (step.excused_by & @named).first
        return unless cause || spoiler

        @missed << step.id
        how =
          cause ? Remark.new(:follows_from_step, step: cause) : Remark.new(:follows_from_mistake, named: spoiler)
        line(step, earned: 0, mistake: nil, at_s: nil, happened: how)
      end

      def missed(step, moment, how, part: false)
        @missed << step.id
        mistake = true_of_this_test(step.missed_as(how))
        @named |= [mistake]
        # Half of it done is half its points.
        earned = (part && !step.critical? && HALVES.include?(how.id)) ? step.points / 2.0 : 0
        line(step, earned: earned, mistake: mistake, at_s: moment, happened: how)
      end

      # Nobody is accused of what did not happen: whoever touched nothing shut no water off.
      def true_of_this_test(mistake)
        happened = @chronicle.variant.station.catalog.happened_for(mistake)
        (happened.nil? || @chronicle.happened?(happened)) ? mistake : :step_not_done
      end

      # What can be half done.
      HALVES = %i[looked_and_not flushed_and_not told_and_not].freeze
      private_constant :HALVES

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
