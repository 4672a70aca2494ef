# frozen_string_literal: true

module Nurv
  module Grading
    # What must be true where a step was tried. Each requirement is asked of one try and answers with what happened
    # instead, or with nil where it is met.
    class Requirements
      # Turns a second of a needle valve that still count as slow.
      SLOW_TURNS_PER_S = 1.6
      # Full openings a second of a shutoff that still count as slow.
      SLOW_OPENINGS_PER_S = 0.35
      STEADY_PSI_PER_S = 0.03
      # A needle that has been looked at for so long has not moved further than this, s and psid.
      STEADY_OVER_S = 5.0
      STEADY_WITHIN_PSID = 0.1
      # What runs so soon ran before, s.
      AT_ONCE_S = 0.2
      # Names that a clause gives beside what it requires.
      ABOUT_CLAUSE = %i[mistake unless follows_from not_with].freeze
      # What is not met: what happened instead, and the moment if it is not that of the try's first act.
      Unmet = Struct.new(:happened, :at_s)
      private_constant :Unmet

      # @param chronicle [Chronicle]
      # @param truth [Expert::Truth]
      def initialize(chronicle, truth)
        @chronicle = chronicle
        @truth = truth
      end

      # All that was not as it must be, and does not only follow from what is named already.
      #
      # @param attempted [Attempted]
      # @param named [Array<Symbol>] mistakes named before
      # @return [Array<Wrong>] at most one of each clause, in the order of the data
      def unmet(attempted, named)
        attempted.step.must.each_with_object([]) do |clause, wrongs|
          next if (names(clause[:unless]) & @truth.run.flags).any?
          here = wrongs.map(&:mistake)
          next if (names(clause[:follows_from]) & (named + here)).any?
          next if ([clause[:mistake].to_sym, *names(clause[:not_with])] & here).any?

          wrongs.concat(wrong_by(clause, attempted))
        end
      end

      # @param name [Symbol]
      # @return [Boolean] whether there is such a requirement
      def self.known?(name) = REGISTRY.key?(name)

      private

      def wrong_by(clause, attempted)
        name, value = clause.find { |key, _| !ABOUT_CLAUSE.include?(key) }
        found = REGISTRY.fetch(name).bind_call(self, value, attempted) or return []
        [Wrong.new(mistake: clause[:mistake].to_sym, happened: found.happened, at_s: found.at_s || attempted.from_s)]
      end

      def names(list) = (list || []).map(&:to_sym)

      def wrong(id, at_s: nil, **values) = Unmet.new(Remark.new(id, **values), at_s)

      def opened_in_order(controls, attempted)
        opened = controls.map { |control| @chronicle.last_opened(control.to_sym, attempted.first) }
        return if opened.any?(&:nil?) || opened == opened.sort

        actual = controls.zip(opened).sort_by(&:last).map { |control, _| control.to_sym }
        wrong(:opened_in_order, at_s: @chronicle.from_s(opened.min), order: actual)
      end

      def opened_before(controls, attempted) =
        sequence(controls, :opened_before) { |control| @chronicle.last_opened(control, attempted.first) }

      def closed_before(controls, attempted) =
        sequence(controls, :closed_before) { |control| @chronicle.last_closed(control, attempted.first) }

      # @yieldparam control [Symbol]
      # @yieldreturn [Integer, nil] entry at which it was done
      def sequence(controls, happened)
        first, second = controls.map(&:to_sym)
        early, late = yield(first), yield(second)
        return if early.nil? || late.nil? || early < late

        wrong(happened, at_s: @chronicle.from_s(late), control: second, before: first)
      end

      def closed_slowly(control, attempted)
        from = @chronicle.last_opened(control.to_sym, attempted.first) or return
        index, rate = @chronicle.fastest(control.to_sym, -1, from..attempted.first)
        return if rate.nil? || rate <= SLOW_TURNS_PER_S

        wrong(:closed_fast, at_s: @chronicle.from_s(index), control: control.to_sym, turns_per_s: rate)
      end

      # From where it was last shut, in as many turns as it took.
      def opened_slowly(controls, attempted)
        Array(controls).map(&:to_sym).each do |control|
          from = @chronicle.last_opened(control, attempted.first) or next
          index, rate = @chronicle.fastest(control, 1, from..attempted.first)
          next if rate.nil? || rate <= SLOW_OPENINGS_PER_S

          return wrong(:opened_fast, at_s: @chronicle.from_s(index), control: control, seconds: 1.0 / rate)
        end
        nil
      end

      # All of them ran at once, the first to be opened until the others were, and each was closed before those after
      # it in the order.
      def run_together(closing, attempted)
        cocks = closing.map(&:to_sym)
        opened = cocks.map { |cock| @chronicle.last_opened(cock, attempted.first) }
        return if opened.any?(&:nil?)

        alone = cocks.find { |cock| @chronicle.state(opened.max).closed?(cock) }
        return wrong(:ran_alone, at_s: @chronicle.from_s(opened.min), control: alone) if alone

        closed = cocks.map { |cock| @chronicle.last_closed(cock, attempted.first) }
        return if closed.any?(&:nil?) || closed == closed.sort

        wrong(
          :closed_in_order,
          at_s: @chronicle.from_s(closed.min),
          order: cocks.zip(closed).sort_by(&:last).map(&:first)
        )
      end

      # Looked at the moment the first of the hoses' test cocks let water in.
      def kit_closed(_value, attempted)
        opened = (attempted.first...@chronicle.size).find { |index| lets_in?(index) }
        return unless opened

        loose = @chronicle.variant.station.kit.valves.keys.select { |valve| @chronicle.state(opened).open?(valve) }
        wrong(:kit_stood_open, at_s: @chronicle.from_s(opened), controls: loose) if loose.any?
      end

      def lets_in?(index)
        state = @chronicle.state(index)
        %i[test_cock_2 test_cock_3].any? { |cock| state.open?(cock) && state.hose_ends.value?(cock) }
      end

      # With the strainer at the kit's end, dirt is kept out of nothing.
      def strainers(_value, attempted)
        state = @chronicle.state(attempted.first)
        on_assembly = state.hose_ends.select { |_, place| place != :free && place != :kit }.keys
        turned = state.turned_hoses & on_assembly
        wrong(:strainer_at_kit, hoses: turned) if turned.any?
      end

      def bled(hoses, attempted)
        share = @chronicle.procedure.bleed_air_share
        hoses.each do |hose|
          air = @chronicle.span(attempted.first).air_in_hose(hose.to_sym, attempted.from_s)
          return wrong(:air_in_hose, hose: hose.to_sym, percent: (air * 100).round) if air > share
        end
        nil
      end

      # The moment that counts is that of the note, or that at which what was noted was frozen; without a note any
      # moment will do.
      def steady_when_read(item, attempted)
        moment = read_at(item, attempted)
        # What was not written down anywhere was not read: that is marked with the readings.
        return if moment.nil? && @chronicle.unrecorded?(item.to_sym)
        return if moment ? steady?(moment, attempted) : steady_sometime?(attempted)
        return wrong(:pegged, at_s: moment) if moment && pegged?(moment)

        late = moment || attempted.until_s
        early = [late - STEADY_OVER_S, attempted.from_s].max
        wrong(:needle_moving, at_s: late, psid: @chronicle.range_psid(early, late))
      end

      # @return [Float, nil] when the item was read in this try; nil without a note, or with one of a value frozen
      #   elsewhere
      def read_at(item, attempted)
        note = @chronicle.note_in(item.to_sym, attempted) or return
        taken = @chronicle.taken_s(note)
        taken if taken >= attempted.from_s - 0.01
      end

      def pegged?(time) = @chronicle.pegged_at?(time)

      # Under a main that swings a needle is steady when its middle is.
      def steady?(time, attempted)
        return false if pegged?(time)
        return true if still?(time, attempted)

        @chronicle.swings_at?(time) && @chronicle.drift_at(time, attempted.from_s).abs <= STEADY_PSI_PER_S
      end

      # It hardly moves now, and has not moved far while one looked.
      def still?(time, attempted)
        return false if @chronicle.rate_at(time, attempted.from_s).abs > STEADY_PSI_PER_S
        return true if time - attempted.from_s < 2.0 * STEADY_OVER_S

        @chronicle.range_psid(time - STEADY_OVER_S, time) <= STEADY_WITHIN_PSID
      end

      def steady_sometime?(attempted)
        time = attempted.until_s
        time -= 1.0 until time <= attempted.from_s || steady?(time, attempted)
        time > attempted.from_s
      end

      def at_least_turns(limits, attempted)
        limits.each do |control, turns|
          most = most_open(control, attempted)
          return wrong(:stood_at_turns, control: control, turns: most) if most < turns - 1.0e-6
        end
        nil
      end

      def at_most_turns(limits, attempted)
        limits.each do |control, turns|
          most = most_open(control, attempted)
          return wrong(:opened_turns, control: control, turns: most) if most > turns + 1.0e-6
        end
        nil
      end

      def most_open(control, attempted) =
        attempted.entries.map { |index| @chronicle.state(index).rest_position(control) }.max

      # Eyes on the port at the discharge, or all through if it never came.
      def watching(thing, attempted)
        moment = discharge(attempted.step.event, attempted)
        seen =
          if moment
            [@chronicle.replay.span_at(moment).state.watching]
          else
            attempted.entries.map { |index| @chronicle.state(index).watching }
          end
        wrong(:eyes_on, at_s: moment, thing: seen.last) unless seen.include?(thing.to_sym)
      end

      def event_or_settled(port, attempted)
        # Who has looked for a while and seen the needle stand may go on, whatever is done to it then.
        acts = attempted.entries.map { |index| @chronicle.from_s(index) }
        moments = acts.select { |time| time - attempted.from_s >= STEADY_OVER_S } + [attempted.until_s]
        return if discharge(port, attempted) || moments.any? { |time| steady?(time, attempted) }

        wrong(:ended_while_falling, at_s: attempted.until_s)
      end

      # Dry when the step was begun, and wet within it.
      def begins?(attempted)
        moment = discharge(attempted.step.event, attempted)
        !moment.nil? && moment > attempted.from_s + AT_ONCE_S
      end

      def discharge(port, attempted) =
        @chronicle.first_discharge(port.to_sym, attempted.first, attempted.last)

      # A leak that shows only with time has its time, unless it has shown already. The wait ends with the note.
      def lasted(rule, attempted)
        ended_s = noted_s(attempted) || attempted.until_s
        seconds = ended_s - attempted.from_s
        return if seconds >= rule[:seconds] - 1.0
        return if @chronicle.needle_at(ended_s) < rule.fetch(:or_below_psid, -1.0)

        wrong(:watched_for, at_s: ended_s, seconds: seconds.round)
      end

      def lasted_or_event(wanted_s, attempted)
        seconds = attempted.until_s - attempted.from_s
        return if seconds >= wanted_s - 0.5 || begins?(attempted)

        wrong(:judged_after, at_s: attempted.until_s, seconds: seconds.round)
      end

      # Shut when it was read, or all through where nothing was noted.
      def closed(controls, attempted)
        index = noted_index(attempted) || attempted.first
        open = Array(controls).map(&:to_sym).select { |control| @chronicle.state(index).open?(control) }
        wrong(:stood_open, at_s: noted_s(attempted), controls: open) if open.any?
      end

      # @return [Float, nil] when what the step is there to read was noted in this try
      def noted_s(attempted) = step_note(attempted)&.then { |note| @chronicle.at_s(note) }

      # @return [Integer, nil] the act that noted it, or put it into a memory
      def noted_index(attempted) = step_note(attempted)&.then { |note| @chronicle.index_at(note) }

      def step_note(attempted)
        items = @chronicle.procedure.items.values.select { |item| item.reading? && item.step == attempted.step.id }
        items.filter_map { |item| @chronicle.note_in(item.id, attempted) }.first
      end

      # What a condition asks for stood when the step was tried.
      def stood(clause, attempted)
        conditions = Conditions.new(@chronicle, attempted.step)
        return if conditions.holds?(clause, attempted.first)

        conditions.lacking([clause], attempted.first)&.then { |remark| Unmet.new(remark, nil) } || wrong(:not_so)
      end

      # The hose was filled through a cock that only trickled: so it stood while the hose still held air.
      def trickled(cock, attempted)
        control = cock.to_sym
        opened = @chronicle.last_opened(control, attempted.first) or return
        hose = @chronicle.state(attempted.first).hose_ends.key(control) or return
        index = (opened..attempted.first).find { |i| wide?(control, hose, i) } or return
        share = @chronicle.state(index).rest_position(control)
        wrong(:opened_wide, at_s: @chronicle.from_s(index), control: control, percent: (share * 100).round)
      end

      # More than this of a cock is no trickle.
      TRICKLE = 0.3
      private_constant :TRICKLE

      def wide?(control, hose, index) =
        @chronicle.state(index).rest_position(control) > TRICKLE &&
          @chronicle.span(index).air_in_hose(hose, @chronicle.from_s(index)) > @chronicle.procedure.bleed_air_share

      def level(name, attempted)
        wanted = @chronicle.variant.station.assembly.levels.fetch(name.to_sym)
        index = noted_index(attempted) || attempted.last
        off_in = @chronicle.state(index).gauge_in - wanted.elevation_in
        wrong(:held_off, at_s: noted_s(attempted), inches: off_in, level: wanted.id) if off_in.abs > 1.0
      end

      def tube_full(_value, attempted)
        return wrong(:no_tube) unless @chronicle.state(attempted.first).fittings.key?(:sight_tube)

        stands_psi = @chronicle.span(attempted.first).pressure_at(attempted.from_s, :sight_tube)
        cock = @chronicle.state(attempted.first).fittings[:sight_tube]
        top_in = @chronicle.variant.station.assembly.tube_top_in(cock)
        missing_in = top_in - stands_psi / Units::PSI_PER_INCH_OF_WATER
        wrong(:tube_not_full, inches: missing_in) if missing_in > 0.5
      end

      # The tee takes what the shutoff lets in and no more; more, and what it feeds sinks.
      def tee_not_too_far(item, attempted)
        state = @chronicle.state(attempted.last)
        return if state.position(:tee_needle, attempted.until_s).zero?

        highest = @chronicle.highest_needle(attempted.first, attempted.last + 1)
        reached = @chronicle.needle_at(attempted.until_s)
        true_psid = Procedures::Item.number(@truth.values[item.to_sym])
        return unless true_psid && true_psid - reached > 0.25

        wrong(
          :tee_drew_it_down,
          at_s: attempted.until_s,
          from_psid: [highest, true_psid].min,
          to_psid: reached,
          turns: state.rest_position(:tee_needle)
        )
      end

      # The needle stood between these when the lowering was done.
      def set_between(range, attempted)
        shown = @chronicle.needle_at(attempted.until_s)
        wrong(:needle_stood, psid: shown) unless shown.between?(*range)
      end

      def reopened(control, attempted)
        valve = control.to_sym
        opened = (0...attempted.first).select { |index| @chronicle.turned(index, valve) == 1 }
        closed = (0...attempted.first).find { |index| @chronicle.turned(index, valve) == -1 }
        wrong(:stayed_closed, control: valve) if closed && (opened.empty? || opened.last < closed)
      end

      REGISTRY =
        %i[
          strainers
          stood
          run_together
          opened_in_order
          opened_before
          closed_before
          closed_slowly
          opened_slowly
          kit_closed
          bled
          steady_when_read
          at_least_turns
          at_most_turns
          watching
          event_or_settled
          lasted_or_event
          lasted
          closed
          trickled
          level
          tube_full
          tee_not_too_far
          set_between
          reopened
        ].to_h { |name| [name, instance_method(name)] }.freeze
      private_constant :REGISTRY
    end
  end
end
