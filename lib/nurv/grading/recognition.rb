# frozen_string_literal: true

module Nurv
  module Grading
    # Where in an attempt each step was tried. Says nothing of how well: that is for Requirements.
    class Recognition
      # @param chronicle [Chronicle]
      def initialize(chronicle)
        @chronicle = chronicle
        @taken = {}
      end

      # Every stretch over which a step was tried, from where the steps before it were.
      #
      # @param step [Procedures::Step]
      # @return [Array<Attempted>] in time order
      def tries(step)
        conditions = conditions_for(step)
        starts(step.matched, conditions, since(step)).map do |first|
          last = step.situation ? last_of(step.matched, conditions, first) : first
          attempted(step, first, last)
        end
      end

      # Every stretch over which a step's situation held: where its reading may have been taken.
      #
      # @return [Array<Array(Integer, Integer)>] first and last entry
      def situations(step)
        return [] unless step.situation

        conditions = Conditions.new(@chronicle, step, reference_psid: reference_psid)
        starts(step.situation, conditions, 0).map { |first| [first, last_of(step.situation, conditions, first)] }
      end

      # @return [Integer, nil] entry from which a step comes too late; nil: it never does, or never did
      def deadline(step)
        return if step.before.empty?

        conditions = conditions_for(step)
        (since(step)...@chronicle.size).find { |index| step.before.any? { |clause| conditions.holds?(clause, index) } }
      end

      # @return [Boolean] what a step must leave behind is so at the end of the attempt
      def kept_to_the_end?(step) =
        step.at_end.empty? || @chronicle.size.zero? ||
          conditions_for(step).hold?(step.at_end, @chronicle.size - 1)

      # Takes a try for the one that counts: what comes after the step is looked for from there on.
      #
      # @param attempted [Attempted]
      def take(attempted) = @taken[attempted.step.id] = attempted

      private

      def attempted(step, first, last) =
        Attempted.new(
          step: step,
          first: first,
          last: last,
          from_s: @chronicle.from_s(first),
          until_s: @chronicle.to_s_at(last)
        )

      def since(step) = step.after.filter_map { |id| @taken[id]&.first }.max || 0

      def conditions_for(step) =
        Conditions.new(@chronicle, step, since: since(step), reference_psid: reference_psid)

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

      # What the needle stood at when the apparent value was there to be read.
      def reference_psid
        apparent = @taken[@chronicle.procedure.apparent_item&.step]
        apparent && @chronicle.needle_at(apparent.until_s - 0.1)
      end
    end
  end
end
