# frozen_string_literal: true

module Nurv
  module Grading
    # What must be true where a step was recognised. Each requirement is asked of a passage of entries, and answers
    # nil when it is met, or one sentence saying what happened instead.
    class Requirements
      # Turns a second of a needle valve that still count as slow.
      SLOW_TURNS_PER_S = 1.6
      # Full openings a second of a shutoff that still count as slow.
      SLOW_OPENINGS_PER_S = 0.35
      STEADY_PSI_PER_S = 0.03

      # @param first [Integer] entry where the step was recognised
      # @param last [Integer] last entry of the passage over which it held
      def initialize(chronicle, step, first, last, truth_values: nil, truth_flags: [], named: [])
        @chronicle = chronicle
        @truth_values = truth_values
        @truth_flags = truth_flags
        @named = named
        @step = step
        @first = first
        @last = last
        @from_s = chronicle.from_s(first)
        @to_s = chronicle.to_s_at(last)
      end

      # @return [Array<Array(Symbol, String, Float)>] mistake, what happened, moment: one per clause that is not met
      def unmet
        @step.must.filter_map do |clause|
          next if (clause.fetch(:unless, []).map(&:to_sym) & @truth_flags).any?
          # What only follows from a mistake named before is not a second one.
          next if (clause.fetch(:follows_from, []).map(&:to_sym) & @named).any?

          name, value = clause.find { |key, _| !%i[mistake unless follows_from].include?(key) }
          @moment = @from_s
          happened = REGISTRY.fetch(name).bind_call(self, value)
          [clause[:mistake].to_sym, happened, @moment] if happened
        end
      end

      private

      def word(control) = Words.control(control.to_sym)

      def opened_in_order(controls)
        opened = controls.map { |control| @chronicle.last_opened(control.to_sym, @first) }
        return if opened.any?(&:nil?) || opened == opened.sort

        actual = controls.zip(opened).sort_by(&:last).map { |control, _| word(control) }
        @moment = @chronicle.from_s(opened.min)
        "Opened in the order #{actual.join(", ")}."
      end

      def opened_before(controls) =
        sequence(controls, "opened") { |control| @chronicle.last_opened(control.to_sym, @first) }

      def closed_before(controls) =
        sequence(controls, "closed") { |control| @chronicle.last_closed(control.to_sym, @first) }

      def sequence(controls, verb)
        early, late = controls.map { |control| yield(control) }
        return if early.nil? || late.nil? || early < late

        @moment = @chronicle.from_s(late)
        "#{word(controls[1])} was #{verb} before #{word(controls[0]).downcase}."
      end

      def closed_slowly(control)
        from = @chronicle.last_opened(control.to_sym, @first) or return
        rate = @chronicle.fastest_rate(control.to_sym, -1, from..@first)
        return if rate.nil? || rate <= SLOW_TURNS_PER_S

        format("%s was closed at %.1f turns a second.", word(control), rate)
      end

      def opened_slowly(control)
        rate = @chronicle.fastest_rate(control.to_sym, 1, 0..@first)
        return if rate.nil? || rate <= SLOW_OPENINGS_PER_S

        format("%s was opened in %.1f seconds.", word(control), 1.0 / rate)
      end

      # Looked at the moment the first of the hoses' test cocks let water in.
      def kit_closed(_value)
        opened =
          (@first...@chronicle.size).find do |index|
            %i[test_cock_2 test_cock_3].any? { |cock| @chronicle.turned(index, cock) == 1 }
          end
        return unless opened

        loose = @chronicle.variant.station.kit.valves.keys.select { |valve| @chronicle.state(opened).open?(valve) }
        return if loose.empty?

        @moment = @chronicle.from_s(opened)
        "#{loose.map { |valve| word(valve) }.join(" and ")} stood open when the test cock was opened."
      end

      # With the strainer at the kit's end, dirt is kept out of nothing.
      def strainers(_value)
        wrong =
          @chronicle.state(@first).turned_hoses &
          @chronicle.state(@first).hose_ends.select { |_, place| place != :free && place != :kit }.keys
        if wrong.any?
          "The strainer of the #{wrong.map { |hose| Words.hose(hose) }.join(" and the ")} was at the kit's end."
        end
      end

      def bled(hoses)
        share = @chronicle.procedure.bleed_air_share
        hoses.each do |hose|
          air = @chronicle.span(@first).air_in_hose(hose.to_sym, @from_s)
          return "The #{Words.hose(hose.to_sym)} was still #{(air * 100).round} % air." if air > share
        end
        nil
      end

      def steady_when_read(item)
        moments = @chronicle.notes(item.to_sym).map(&:at_s).select { |time| time.between?(@from_s, @to_s + 0.01) }
        @moment = moments.last || @to_s
        return if steady?(@moment)
        return if moments.empty? && steady_sometime?

        format("The needle was moving by %.2f psi a second.", @chronicle.rate_at(@moment, @from_s).abs.clamp(0, 99))
      end

      def steady?(time) = @chronicle.rate_at(time, @from_s).abs <= STEADY_PSI_PER_S

      def steady_sometime?
        time = @to_s
        time -= 1.0 until time <= @from_s || steady?(time)
        time > @from_s
      end

      def at_least_turns(limits)
        limits.each do |control, turns|
          most = (@first..@last).map { |index| @chronicle.state(index).rest_position(control) }.max
          return format("%s stood at %.2f turns.", word(control), most) if most < turns - 1.0e-6
        end
        nil
      end

      def at_most_turns(limits)
        limits.each do |control, turns|
          most = (@first..@last).map { |index| @chronicle.state(index).rest_position(control) }.max
          return format("%s was opened %.2f turns.", word(control), most) if most > turns + 1.0e-6
        end
        nil
      end

      # Eyes on the port at the discharge, or all through if it never came.
      def watching(thing)
        moment = @chronicle.first_discharge(@step.event, @first, @last)
        seen =
          (
            if moment
              [@chronicle.replay.span_at(moment).state.watching]
            else
              (@first..@last).map { |index| @chronicle.state(index).watching }
            end
          )
        return if seen.include?(thing.to_sym)

        eyes = seen.last

        @moment = moment || @from_s
        "The eyes were on the #{eyes.to_s.tr("_", " ")}."
      end

      def event_or_settled(port)
        return if @chronicle.first_discharge(port.to_sym, @first, @last)

        @moment = @to_s
        return if @chronicle.rate_at(@to_s, @from_s).abs <= STEADY_PSI_PER_S

        "It was ended while the needle was still falling and the relief port was dry."
      end

      # A leak that shows only with time has its time, unless it has shown already.
      def lasted(rule)
        return if @to_s - @from_s >= rule[:seconds] - 1.0
        return if @chronicle.needle_at(@to_s) < rule.fetch(:or_below_psid, -1.0)

        format("It was watched for %d seconds.", (@to_s - @from_s).round)
      end

      def closed(controls)
        open = Array(controls).select { |control| @chronicle.state(@first).open?(control.to_sym) }
        "#{open.map { |control| word(control) }.join(" and ")} stood open." if open.any?
      end

      def level(name)
        wanted = @chronicle.variant.station.assembly.levels.fetch(name.to_sym)
        held = @chronicle.state(@last).gauge_in
        return if (held - wanted.elevation_in).abs <= 1.0

        format("The gauge was held %+g in off the %s.", held - wanted.elevation_in, wanted.label)
      end

      def tube_full(_value)
        level_in = @chronicle.span(@first).pressure_at(@from_s, :sight_tube) / Units::PSI_PER_INCH_OF_WATER
        return if level_in >= Bench::Plumbing::TUBE_TOP_IN - 0.5

        format("The water stood %.1f in below the top of the tube.", Bench::Plumbing::TUBE_TOP_IN - level_in)
      end

      # The tee takes what the shutoff lets in and no more; more, and what it feeds sinks.
      def tee_not_too_far(item)
        return if @chronicle.state(@last).position(:tee_needle, @to_s).zero?

        highest = @chronicle.highest_needle([@last, @first].min, @last + 1)
        reached = @chronicle.needle_at(@to_s)
        truth = reference(item)
        return unless truth && truth - reached > 0.25

        @moment = @to_s
        format(
          "The needle sank from %.1f to %.1f with the tee at %.2f turns.",
          [highest, truth].min,
          reached,
          @chronicle.state(@last).rest_position(:tee_needle)
        )
      end

      def reference(item) = @truth_values && Procedures::Item.number(@truth_values[item.to_sym])

      # The needle stood between these when the lowering was done.
      def set_between(range)
        shown = @chronicle.needle_at(@to_s)
        return if shown.between?(*range)

        format("The needle stood at %.1f.", shown)
      end

      def reopened(control)
        earlier = (0...@first).select { |index| @chronicle.turned(index, control.to_sym) == 1 }
        closings = (0..@first).select { |index| @chronicle.turned(index, control.to_sym) == -1 }
        return if earlier.any? && closings.any? && earlier.last > closings.first

        "#{word(control)} had stayed closed since the first check."
      end

      def lasted_or_event(seconds)
        return if @to_s - @from_s >= seconds - 0.5
        return if @chronicle.first_discharge(@step.event, @first, @last)

        format("It was judged after %d seconds.", (@to_s - @from_s).round)
      end

      REGISTRY =
        %i[
          strainers
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
