# frozen_string_literal: true

module Nurv
  module Teaching
    # What each thing that was wrong cost a reading: the same moment once more with that one thing put right, on the
    # tester's own bench from where its situation was set up. Then all of them together, since they lean on each other.
    class Cost
      # A cause, by the mistake's id, and the psid that it added to the reading.
      Cause = Struct.new(:mistake, :psid, keyword_init: true)
      # item [Symbol]; at_s [Float] when it was taken; shown_psid, right_psid [Float] as it was and with all put right;
      # causes [Array<Cause>]
      Bill =
        Struct.new(:item, :at_s, :shown_psid, :right_psid, :causes, keyword_init: true) do
          # @return [Float] psid that all of them added together
          def together_psid = shown_psid - right_psid

          # @return [Boolean] their sum is not what they do together
          def lean? = (causes.sum(0.0, &:psid) - together_psid).abs > LEANING_PSID
        end
      LEANING_PSID = 0.2
      # A needle that had not settled is waited for so long, s, and has when it moves less than this in so many s, psid.
      WAITED_S = 180.0
      SETTLES_OVER_S = 10.0
      SETTLED_PSID = 0.05
      # A gauge off its zero by less is on it.
      ZERO_PSID = 0.05

      # @param replay [Bench::Replay] of what was handed in
      # @param grade [Grading::Grade]
      def initialize(replay, grade)
        @replay = replay
        @procedure = grade.procedure
        @grade = grade
        @chronicle = Grading::Chronicle.new(replay, @procedure)
      end

      # @return [Array<Bill>] of each reading in whose step something went wrong that the needle felt
      def bills = @procedure.items.values.select(&:reading?).filter_map { |item| bill(item) }

      # @param item [Procedures::Item]
      # @return [Bill, nil] nil where it was not noted, or nothing that was wrong moves a needle
      def bill(item)
        note = @chronicle.notes(item.id).last or return
        step = @procedure.step(item.step) or return
        mistakes = wrong_with(step) | ((zero_psid.abs > ZERO_PSID) ? [:gauge_off_zero] : [])
        return if mistakes.empty?

        weighed(item, step, note, mistakes)
      end

      private

      MENDED = %i[gauge_not_level hose_not_bled shutoff_valve_2_open read_before_steady gauge_off_zero].freeze
      private_constant :MENDED

      # A mistake of an earlier step is felt in this one as well.
      def wrong_with(step)
        lost = @grade.lines.select { |line| line.section == :procedure && line.lost? }
        lost.select { |line| line.about == step.id || felt_later?(line.mistake) }.map(&:mistake) & MENDED
      end

      def felt_later?(mistake) = %i[hose_not_bled shutoff_valve_2_open].include?(mistake)

      def zero_psid = @replay.variant.zero_error_psid

      def weighed(item, step, note, mistakes)
        at_s = @chronicle.taken_s(note)
        from = set_up_at(step, note) or return
        shown = @replay.span_at(at_s).needle_at(at_s)
        causes =
          mistakes.map { |mistake| Cause.new(mistake: mistake, psid: shown - again(step, from, at_s, [mistake])) }
        Bill.new(
          item: item.id,
          at_s: at_s,
          shown_psid: shown,
          right_psid: again(step, from, at_s, mistakes),
          causes: causes.sort_by { |cause| -cause.psid.abs }
        )
      end

      # Walks the step's situation back from the note to where it began to stand.
      def set_up_at(step, note)
        index = @chronicle.index_at(note) or return
        conditions = Grading::Conditions.new(@chronicle, step)
        clauses = step.situation || step.matched
        index -= 1 until index.zero? || !conditions.hold?(clauses, index - 1)
        index
      end

      # @return [Float] psid that the needle would have shown then
      def again(step, from, at_s, mistakes)
        return settled(step, from, at_s, mistakes) if mistakes.include?(:read_before_steady)

        zeroed(run(step, from, at_s, mistakes).needle_at(at_s), mistakes)
      end

      def settled(step, from, at_s, mistakes)
        span = run(step, from, at_s, mistakes - [:read_before_steady])
        time = at_s + SETTLES_OVER_S
        time += 1.0 until time > at_s + WAITED_S || still?(span, time)
        zeroed(span.needle_at(time), mistakes)
      end

      def still?(span, time) =
        (0..5).map { |part| span.needle_at(time - part * SETTLES_OVER_S / 5.0) }.minmax.reduce(:-).abs < SETTLED_PSID

      def zeroed(psid, mistakes) = mistakes.include?(:gauge_off_zero) ? psid - zero_psid : psid

      # The acts of the situation once more, from a bench with these put right.
      def run(step, from, at_s, mistakes)
        first = @chronicle.span(from)
        return @replay.span_at(at_s) if (mistakes - %i[gauge_off_zero]).empty?

        span = Bench::Span.new(@replay.variant, put_right(first.state, step, mistakes))
        ((from + 1)...@chronicle.size).each do |index|
          action = @chronicle.action(index)
          break if action.time_s > at_s
          next if left_out?(action, mistakes)

          span = span.after(action, new: false)
        end
        span
      end

      def put_right(state, step, mistakes)
        state = state.with(gauge_in: level_in(step)) if mistakes.include?(:gauge_not_level) && level_in(step)
        state = with_shut(state, :shutoff_valve_2) if mistakes.include?(:shutoff_valve_2_open)
        state = without_air(state) if mistakes.include?(:hose_not_bled)
        state
      end

      def with_shut(state, valve) =
        state.with(controls: state.controls.merge(valve => Hydraulics::Ramp.at(0.0)).freeze)

      def without_air(state)
        water = state.water
        full = water.with(hose_air: water.hose_air.map { 0.0 }.freeze, hose_gap: water.hose_air.map { 0.0 }.freeze)
        state.with(water: full)
      end

      # What the step's own requirement calls level.
      def level_in(step)
        name = step.must.filter_map { |clause| clause[:level] }.first or return
        @replay.variant.station.assembly.levels.fetch(name.to_sym).elevation_in
      end

      # Acts that undo what was put right.
      def left_out?(action, mistakes)
        return true if action.kind == :level && mistakes.include?(:gauge_not_level)

        mistakes.include?(:shutoff_valve_2_open) && action.kind == :turn && action.named(:valve) == :shutoff_valve_2
      end
    end
  end
end
