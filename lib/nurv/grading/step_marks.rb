# frozen_string_literal: true

module Nurv
  module Grading
    # Marks the steps a correct tester would have taken: where each was done, whether in time, and what was wrong with
    # it.
    class StepMarks
      # Where a step was recognised: entries first..last, and what was not as it must be.
      Passage = Struct.new(:first, :last, :unmet)

      attr_reader :passages

      # @param chronicle [Chronicle]
      # @param truth [Expert::Truth]
      # @yield [step] which of the steps called for are looked for here; all, without a block
      def initialize(chronicle, truth, &wanted)
        @chronicle = chronicle
        @procedure = chronicle.procedure
        @steps = truth.steps.map { |id| @procedure.step(id) }.select(&wanted || :itself)
        @truth_values = truth.values
        @truth_flags = truth.run.flags
        @passages = {}
        @named = []
      end

      # @return [Array<Line>]
      def lines = @lines ||= @steps.filter_map { |step| mark(step)&.tap { |line| @named |= [line.mistake].compact } }

      # Every passage over which a step's situation held: where its reading may have been taken.
      def situations(step)
        return [] unless step.situation

        conditions = conditions_for(step, 0)
        starts(step.situation, conditions, 0).map { |first| [first, last_of(step.situation, conditions, first)] }
      end

      # A gauge was on record.
      def by_hand? = false

      private

      def conditions_for(step, since) = Conditions.new(@chronicle, step, since: since, reference_psid: reference_psid)

      def mark(step)
        since = step.after.filter_map { |id| @passages[id]&.first }.max || 0
        conditions = conditions_for(step, since)
        late = deadline(step, conditions, since)
        passage = best_passage(step, conditions, since, late)
        @passages[step.id] = passage if passage
        return (missed(step, nil) unless step.optional?) unless passage

        undone = step.at_end.any? && @chronicle.size.positive? && !conditions.hold?(step.at_end, @chronicle.size - 1)
        return missed(step, @chronicle.end_s) if undone

        return missed(step, @chronicle.from_s(late)) if late && passage.first > late

        done(step, passage)
      end

      # Starting over is good practice, so the best try in time counts; after that, the first.
      def best_passage(step, conditions, since, late)
        all = starts(step.matched, conditions, since)
        in_time = late ? all.select { |first| first <= late } : all
        (in_time.any? ? in_time : all.first(1))
          .map do |first|
            last = step.situation ? last_of(step.matched, conditions, first) : first
            Passage.new(
              first,
              last,
              Requirements.new(
                @chronicle,
                step,
                first,
                last,
                truth_values: @truth_values,
                truth_flags: @truth_flags,
                named: @named
              ).unmet
            )
          end
          .min_by
          .with_index { |passage, order| [passage.unmet.size, order] }
      end

      # Entries at which the clauses begin to hold.
      def starts(clauses, conditions, since)
        held = false
        (since...@chronicle.size).select do |index|
          holds = conditions.hold?(clauses, index)
          begins = holds && !held
          held = holds
          begins
        end
      end

      def last_of(clauses, conditions, first)
        last = first
        last += 1 while last + 1 < @chronicle.size && conditions.hold?(clauses, last + 1)
        last
      end

      def deadline(step, conditions, since)
        return if step.before.empty?

        (since...@chronicle.size).find { |index| step.before.any? { |clause| conditions.holds?(clause, index) } }
      end

      # What the needle stood at when the apparent value was there to be read.
      def reference_psid
        passage = @passages[:apparent]
        passage && @chronicle.needle_at(@chronicle.to_s_at(passage.last) - 0.1)
      end

      def done(step, passage)
        mistake, happened, moment = passage.unmet.first
        Line.new(
          section: :procedure,
          id: step.id,
          title: step.title,
          points: step.points,
          earned: mistake ? [step.points - step.points * passage.unmet.size / 2.0, 0].max : step.points,
          mistake: mistake,
          at_s: moment || @chronicle.from_s(passage.first),
          expected: "#{step.title}.",
          happened: happened || "Done.",
          critical: step.critical?,
          why: mistake ? @chronicle.why(mistake) : step.why
        )
      end

      def missed(step, moment)
        Line.new(
          section: :procedure,
          id: step.id,
          title: step.title,
          points: step.points,
          earned: 0,
          mistake: step.missed,
          at_s: moment,
          expected: "#{step.title}.",
          happened: moment ? "Not done in time." : "Not done.",
          critical: step.critical?,
          why: step.why
        )
      end
    end
  end
end
