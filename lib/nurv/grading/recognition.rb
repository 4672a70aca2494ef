# frozen_string_literal: true

module Nurv
  module Grading
    # Where in an attempt each step was tried. Says nothing of how well: that is for Requirements.
    class Recognition
      # @param chronicle [Chronicle]
      # @param steps [Array<Procedures::Step>] those called for
      def initialize(chronicle, steps)
        @chronicle = chronicle
        @steps = steps
        @taken = {}
        @ancestors = {}
        @known = {}.compare_by_identity
      end

      # Clauses of a step, and at which entries they hold. standing, others [Array<Hash>]: those that ask only how the
      # bench stands, and the rest; stood, held [Array<Boolean, nil>] what is known of either, by entry; held is nil
      # where it depends on where one begins
      Known = Struct.new(:standing, :others, :stood, :held)
      private_constant :Known

      # Every stretch over which a step was tried in its turn: from where the steps before it were, and not after the
      # last try of a step that comes after it. Who tests again from the start has two turns.
      #
      # @param step [Procedures::Step]
      # @return [Array<Attempted>] in time order
      def tries(step) = in_turn(step, since(step), {})

      # @return [Integer, nil] entry from which a step comes too late; nil: it never does, or never did
      def deadline(step)
        return if step.before.empty?

        conditions = conditions_for(step)
        first = since(step)
        others = step.before.reject { |clause| conditions.of_the_standing_alone?(clause) }
        (first...@chronicle.size).find do |index|
          asked = (index == first || @chronicle.stands_as(index) == index) ? step.before : others
          asked.any? { |clause| conditions.holds?(clause, index) }
        end
      end

      # @return [Boolean] what a step must leave behind is so at the end of the attempt
      def kept_to_the_end?(step) =
        step.at_end.empty? || @chronicle.size.zero? ||
          conditions_for(step).hold?(step.at_end, @chronicle.size - 1)

      # Where a step was begun and not done as a whole.
      #
      # @param step [Procedures::Step]
      # @return [Attempted, nil]
      def half(step)
        return unless step.tried

        conditions = conditions_for(step)
        first = starts(step.tried, conditions, since(step)).first or return
        last = last_of(step.tried, conditions, first)
        found = attempted(step, first, last)
        found.lacking = lacking_between(step.matched, conditions, first, last)
        found
      end

      # @param step [Procedures::Step]
      # @param late [Integer, nil] entry from which it comes too late
      # @return [Remark, nil] how far one came with a step that was not tried as a whole; nil where nothing was done
      def part_done(step, late) =
        lacking_between(step.matched, conditions_for(step), since(step), late || (@chronicle.size - 1))

      # @return [Remark, nil] what of that which a step must leave behind is not so at the end
      def not_kept(step) =
        (conditions_for(step).lacking(step.at_end, @chronicle.size - 1) if @chronicle.size.positive?)

      # Takes a try for the one that counts: what comes after the step is looked for from there on.
      #
      # @param attempted [Attempted]
      def take(attempted) = @taken[attempted.step.id] = attempted

      # @param step [Procedures::Step]
      # @return [Integer] entry from which its turn is: the last try, as taken, of the steps before it; 0 without any
      def turn_of(step) = since(step)

      private

      def tries_from(step, since)
        conditions = conditions_for(step, since)
        starts(step.matched, conditions, since).map do |first|
          last = step.situation ? last_of(step.matched, conditions, first) : first
          attempted(step, first, last)
        end
      end

      # Not after the last turn of a step that follows this one, if any such was tried.
      def in_turn(step, since, known)
        known[[step.id, since]] ||=
          begin
            found = tries_from(step, since)
            limit = last_start_of_followers(step, found.first.first, known) if found.size > 1
            limit ? found.select { |attempted| attempted.first <= limit } : found
          end
      end

      def last_start_of_followers(step, from, known)
        limits =
          @steps
            .select { |other| other.after.include?(step.id) }
            .filter_map { |other| in_turn(other, from, known).map(&:first).max }
        limits.min
      end

      def attempted(step, first, last) =
        Attempted.new(
          step: step,
          first: first,
          last: last,
          from_s: @chronicle.from_s(first),
          until_s: @chronicle.to_s_at(last)
        )

      # A step left out opens no gate: what was before it still comes first.
      def since(step) = ancestors(step).filter_map { |id| @taken[id]&.first }.max || 0

      def ancestors(step)
        @ancestors[step.id] ||=
          step.after.flat_map { |id|
            before = @chronicle.procedure.step(id)
            before ? [id, *ancestors(before)] : []
          }
            .uniq
      end

      def conditions_for(step, since = since(step)) =
        Conditions.new(@chronicle, step, since: since, reference_psid: reference_psid)

      # Entries at which the clauses begin to hold.
      def starts(clauses, conditions, since)
        held = false
        known = known_of(clauses, conditions)
        (since...@chronicle.size).select do |index|
          holds = hold?(known, conditions, index)
          begins = holds && !held
          held = holds
          begins
        end
      end

      def last_of(clauses, conditions, first)
        last = first
        known = known_of(clauses, conditions)
        last += 1 while last + 1 < @chronicle.size && hold?(known, conditions, last + 1)
        last
      end

      # @return [Known] of these clauses, for every turn of the step
      def known_of(clauses, conditions)
        by_clauses = @known[conditions.step] ||= {}.compare_by_identity
        by_clauses[clauses] ||=
          begin
            standing, others = clauses.partition { |clause| conditions.of_the_standing_alone?(clause) }
            Known.new(standing, others, [], conditions.of_the_entry_alone?(others) ? [] : nil)
          end
      end

      # A step is looked for anew in every turn, and a long attempt has thousands of entries, most of them of a hand
      # that moves a valve a little.
      def hold?(known, conditions, index)
        place = @chronicle.stands_as(index)
        stands = known.stood[place]
        stands = known.stood[place] = conditions.hold?(known.standing, place) if stands.nil?
        return stands if !stands || known.others.empty?
        return conditions.hold?(known.others, index) unless known.held

        holds = known.held[index]
        holds.nil? ? known.held[index] = conditions.hold?(known.others, index) : holds
      end

      # At the entry that lacked least, the latest of such.
      def lacking_between(clauses, conditions, first, last)
        best = (first..last).max_by { |index| [conditions.share(clauses, index), index] }
        best && conditions.lacking(clauses, best)
      end

      # What the needle stood at when the apparent value was there to be read.
      def reference_psid
        apparent = @taken[@chronicle.procedure.apparent_item&.step]
        apparent && @chronicle.needle_at(apparent.until_s - 0.1)
      end
    end
  end
end
