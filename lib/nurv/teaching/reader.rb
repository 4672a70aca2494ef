# frozen_string_literal: true

module Nurv
  module Teaching
    # The correct tester's run as a reader of somebody else's: the same data, but each act is looked for among the
    # tester's own, and takes its moment, its bench and its value. What is not there is what comes next.
    #
    # It follows the water: which branch is taken is seen at the tester's own bench. What may be done in any order is
    # taken wherever it stands; what stands already as it should is not asked for again; a step for which it is too late
    # is passed over.
    class Reader < Expert::Tester
      # What comes next. kind :act, with `fields` of an act; :wait, with `seconds`; :done. step [Procedures::Step, nil];
      # flags [Array<Symbol>] what was to be noticed so far.
      Next = Struct.new(:kind, :fields, :seconds, :step, :flags, keyword_init: true)
      # Done in any order, and seen in no valve.
      ANY_ORDER = %i[look tell find declare clean fill].freeze
      # As good as the same, turns or inches.
      ABOUT = 1.0
      # A tee is opened until a drip stops, turns.
      EXACT_TURNS = 0.005
      # The last moment before an act.
      JUST_BEFORE_S = 0.001
      # Open as far, give or take a quarter.
      FACTOR = 1.25
      # What was seen before now is seen alike for ever.
      Memo = Class.new(Hash)

      # @param replay [Bench::Replay] what was done so far
      # @param procedure [Procedures::Procedure]
      # @param now_s [Float] simulated seconds
      # @param memo [Memo] of readings of the same log before
      def initialize(replay, procedure, now_s, memo = Memo.new)
        @replay = replay
        super(replay.variant, procedure)
        @entries = Bench::Stroke.done(replay.entries)
        @times = @entries.map { |entry| entry.action.time_s }
        @now_s = now_s
        @memo = memo
        @time_s = 0.0
        @pointer = 0
        @used = {}
        # By the same entries: both are asked by index.
        @chronicle = Grading::Chronicle.new(read(replay), procedure)
      end

      # @return [Next]
      def next
        catch(:next) do
          run
          Next.new(kind: :done, flags: @round.flags)
        end
      end

      private

      def read(replay) = @entries.empty? ? replay : Bench::Replay.recent(replay.variant, @entries)

      def first_span = @replay.first

      # The tester's own bench at the moment that has been read up to.
      def span
        # While the reader is being built there is nothing to read yet.
        return super unless @times

        # What was done at this very moment and is not read yet is still to come.
        index = (@times.bsearch_index { |time| time >= @time_s } || @times.size) - 1
        (index < 0) ? @replay.first : @entries[[index, @pointer - 1].max].span
      end

      def carry_out(step)
        @step_from = @pointer
        catch(:passed_over) { super }
      end

      # Who goes on before the time is over has gone on.
      def perform(act) = catch(:gone_on) { super }

      def act(kind, **fields)
        return if stands_so?(kind, fields)

        index = match(kind, fields)
        return take(index, kind, fields) if index

        throw(:passed_over) if @step && too_late?(@step)
        throw(:next, Next.new(kind: :act, fields: {kind: kind.to_s, **fields}, step: @step, flags: @round.flags))
      end

      def take(index, kind, fields)
        @used[index] = true
        @time_s = [@time_s, @times[index]].max
        @pointer = index + 1 if index >= @pointer
        @round.values[fields[:item].to_sym] = @entries[index].action[:value].to_s if kind == :jot
      end

      def match(kind, fields)
        # What was read before the step's turn was read from something else.
        from = {jot: @step_from.to_i}.fetch(kind) { ANY_ORDER.include?(kind) ? 0 : @pointer }
        (from...@entries.size).find { |index| !@used[index] && same?(@entries[index].action, kind, fields) }
      end

      def same?(action, kind, fields)
        return false unless action.kind == kind

        SAME.fetch(kind, ->(_, _) { true }).call(action, fields)
      end

      NAMED = ->(*names) do
        ->(action, fields) { names.all? { |name| action[name].to_s == fields[name].to_s } }
      end
      SAME = {
        turn: ->(action, fields) {
          action[:valve].to_s == fields[:valve].to_s && action[:to].positive? == fields[:to].positive?
        },
        connect: ->(action, fields) {
          %i[hose to].all? { |name| action[name].to_s == fields[name].to_s } && action[:end].to_s == fields[:end].to_s
        },
        disconnect: NAMED.call(:hose),
        level: ->(action, fields) { (action[:to] - fields[:to]).abs <= ABOUT },
        fit: NAMED.call(:fitting, :to),
        unfit: NAMED.call(:fitting),
        canopy: NAMED.call(:to),
        look: NAMED.call(:at),
        watch: NAMED.call(:at),
        tell: NAMED.call(:person, :topic),
        jot: NAMED.call(:item),
        fill: NAMED.call(:field),
        find: NAMED.call(:finding),
        clean: NAMED.call(:at),
        repair: NAMED.call(:component),
        declare: NAMED.call(:what),
        swap_ends: NAMED.call(:hose)
      }.freeze
      private_constant :NAMED, :SAME

      # Nothing need be done for it.
      def stands_so?(kind, fields)
        state = span.state
        case kind
        when :turn then as_far?(fields[:valve].to_sym, state.rest_position(fields[:valve].to_sym), fields[:to])
        when :watch then state.watching == fields[:at].to_sym
        when :level then (state.gauge_in - fields[:to]).abs <= ABOUT
        when :connect then state.hose_ends[end_of(fields)] == fields[:to].to_sym
        when :disconnect then [:free, :kit, nil].include?(state.hose_ends[end_of(fields)])
        when :fit then state.fittings[fields[:fitting].to_sym] == fields[:to].to_sym
        when :fill then !@entries.empty? && @entries.last.span.state.report[fields[:field].to_sym].to_s.strip != ""
        else false
        end
      end

      def end_of(fields) = fields[:end] ? :"#{fields[:hose]}_#{fields[:end]}" : fields[:hose].to_sym

      def as_far?(valve, stands, to)
        return (stands - to).abs < EXACT_TURNS if valve == :tee_needle
        return stands.zero? && to.zero? if stands.zero? || to.zero?

        (stands / to).between?(1.0 / FACTOR, FACTOR)
      end

      def too_late?(step)
        return false if step.before.empty?

        conditions = Grading::Conditions.new(@chronicle, step, since: @step_from)
        late = ->(index) { step.before.any? { |clause| conditions.holds?(clause, index) } }
        # What stood so before the step's turn came, as in a test after a repair, shuts no gate.
        return false if @step_from.positive? && late.call(@step_from - 1)

        (@step_from...@chronicle.size).any?(&late)
      end

      # Time that has gone by already, up to what was done next; what has not is still to be waited for.
      def pass(seconds)
        wanted = (@time_s + seconds).round(3)
        ahead = next_work
        if ahead
          last = [@times[ahead] - JUST_BEFORE_S, @time_s].max
          throw(:gone_on) if @time_s >= last && seconds <= TICK_S
          @time_s = [wanted, last].min
        elsif wanted <= @now_s
          @time_s = wanted
        else
          throw(:next, Next.new(kind: :wait, seconds: wanted - @now_s, step: @step, flags: @round.flags))
        end
      end

      # @return [Integer, nil] the next act that moves something
      def next_work = (@pointer...@entries.size).find { |index| !@entries[index].action.paper? }

      def sees?(name, value, all)
        return super if @time_s > @now_s - TICK_S

        key = [name, value, all, @time_s, @waiting_since, @round.marks.size]
        @memo.fetch(key) { @memo[key] = super }
      end

      def discharge_within(port, seconds)
        ahead = next_work
        seconds = (@times[ahead] - @time_s - JUST_BEFORE_S).clamp(0.0, seconds) if ahead
        return super if @time_s + seconds > @now_s - TICK_S

        key = [:discharges, port, @time_s, seconds]
        @memo.fetch(key) { @memo[key] = super }
      end
    end
  end
end
