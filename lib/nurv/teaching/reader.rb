# frozen_string_literal: true

module Nurv
  module Teaching
    # The correct tester's run as a reader of somebody else's: the same data, but each act is looked for among the
    # tester's own, and takes its moment, its bench and its value. What is not there is what comes next.
    #
    # It follows the water: which branch is taken is seen at the tester's own bench. What may be done in any order is
    # taken wherever it stands; what stands already as it should is not asked for again; a step for which it is too late
    # is passed over, unless what comes after it needs what it leaves behind. Whoever has gone on for a while without
    # what was to be done is led back: the bench is put as it stood then, and all is done again from there.
    class Reader < Expert::Tester
      # What comes next. kind :act, with `fields` of an act; :wait, with `seconds`; :done. step [Procedures::Step, nil];
      # flags [Array<Symbol>] what was to be noticed so far.
      Next = Struct.new(:kind, :fields, :seconds, :step, :flags, keyword_init: true)
      # Done in any order, and seen in no valve.
      ANY_ORDER = %i[look tell find declare clean fill cap adapt tighten power light forget tag].freeze
      # A tee is opened until a drip stops, turns.
      EXACT_TURNS = 0.005
      # The last moment before an act.
      JUST_BEFORE_S = 0.001
      # So many acts at the bench besides what was to be done are no slip of the hand.
      GONE_ON = 4
      # A step that was begun, with the bench as a correct tester would have had it then.
      Begun = Struct.new(:step, :setting, :round)
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
        @begun = []
        @setting = WayBack::Setting.of(replay.first.state)
        @reach = {}
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

      # Step by step, and once more from an earlier one for who is led back to it.
      def work_through(list)
        place = 0
        while place < list.size && !@stopped
          step = list[place]
          back_to = catch(:back_to) do
            carry_out(step) if step.called_for?(@round.flags)
            nil
          end
          place = back_to ? list.index { |one| one.id == back_to } : place + 1
        end
      end

      def carry_out(step)
        @step_from = @pointer
        @begun << Begun.new(step, @setting, @round)
        @carried_out = step
        catch(:passed_over) { super }
      ensure
        @carried_out = nil
      end

      # Who goes on before the time is over has gone on.
      def perform(act) = catch(:gone_on) { super }

      def act(kind, **fields)
        unless stands_so?(kind, fields)
          index = match(kind, fields) or missing(kind, fields)
          take(index, kind, fields)
        end
        @setting = @setting.after(kind, fields)
      end

      def missing(kind, fields)
        # What is done between two tests belongs to no step that one could be led back to.
        at_bench = @carried_out && !ANY_ORDER.include?(kind)
        lead_back if at_bench && gone_on?
        throw(:passed_over) if @carried_out && too_late?(@step) && leaves_nothing?(@step)
        wanted = (at_bench && put_right) || {kind: kind.to_s, **fields}
        throw(:next, Next.new(kind: :act, fields: wanted, step: @step, flags: @round.flags))
      end

      def take(index, kind, fields)
        @used[index] = true
        # What may be done in any order is taken wherever it stands; what was done before it is read in its turn.
        return if ANY_ORDER.include?(kind) && next_work&.<(index)

        @time_s = [@time_s, @times[index]].max
        @pointer = index + 1 if index >= @pointer
        @round.values[fields[:item].to_sym] = @entries[index].action[:value].to_s if kind == :jot
      end

      def match(kind, fields)
        # What was read before the step's turn was read from something else.
        from = ANY_ORDER.include?(kind) ? 0 : @pointer
        from = @step_from.to_i if kind == :jot || looks_again?(kind)
        till = (ANY_ORDER.include?(kind) || @carried_out.nil?) ? @entries.size : reach
        (from...till).find { |index| !@used[index] && same?(@entries[index].action, kind, fields) }
      end

      # What one looks at when all is put back was not seen before.
      def looks_again?(kind) = kind == :look && @step&.closing?

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
        level: ->(action, fields) { (action[:to] - fields[:to]).abs <= WayBack::ABOUT_IN },
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
        tag: NAMED.call(:at, :as),
        cap: NAMED.call(:at, :to),
        adapt: NAMED.call(:at, :to),
        tighten: NAMED.call(:valve),
        power: NAMED.call(:to),
        light: NAMED.call(:to),
        swap_ends: NAMED.call(:hose)
      }.freeze
      private_constant :NAMED, :SAME

      # Asked of the act itself: what stands already belongs to how a correct tester would have the bench.
      def set_already?(_valve, _position) = false

      # Nobody is asked to press a button for its own sake.
      def keep_awake = nil

      # Of what is made ready, not of what is turned.
      def ready_so?(kind, fields)
        state = span.state
        case kind
        when :cap then state.capped.include?(fields[:at].to_sym) == (fields[:to] == "on")
        when :adapt then state.adapted.include?(fields[:at].to_sym) == (fields[:to] == "on")
        when :tighten then state.tightened.include?(fields[:valve].to_sym)
        when :light then state.lit == (fields[:to] == "on")
        when :tag then state.tags[fields[:at].to_sym] == fields[:as].to_sym
        else false
        end
      end

      # Nothing need be done for it.
      def stands_so?(kind, fields)
        return true if ready_so?(kind, fields)

        state = span.state
        case kind
        when :turn then as_far?(fields[:valve].to_sym, state.rest_position(fields[:valve].to_sym), fields[:to])
        when :watch then state.watching == fields[:at].to_sym
        when :level then (state.gauge_in - fields[:to]).abs <= WayBack::ABOUT_IN
        when :connect then state.hose_ends[WayBack.end_of(fields)] == fields[:to].to_sym
        when :disconnect then [:free, :kit, nil].include?(state.hose_ends[WayBack.end_of(fields)])
        when :fit then state.fittings[fields[:fitting].to_sym] == fields[:to].to_sym
        when :fill then !@entries.empty? && @entries.last.span.state.report[fields[:field].to_sym].to_s.strip != ""
        else false
        end
      end

      def as_far?(valve, stands, to)
        (valve == :tee_needle) ? (stands - to).abs < EXACT_TURNS : WayBack.as_far?(stands, to)
      end

      def too_late?(step)
        return false if step.before.empty?

        conditions = Grading::Conditions.new(@chronicle, step, since: @step_from)
        late = ->(index) { step.before.any? { |clause| conditions.holds?(clause, index) } }
        # What stood so before the step's turn came, as in a test after a repair, shuts no gate.
        return false if @step_from.positive? && late.call(@step_from - 1)

        (@step_from...@chronicle.size).any?(&late)
      end

      # What comes after it needs nothing of it: it moves nothing, or cocks that it shuts again.
      def leaves_nothing?(step) = step.flushes? || step.acts.none? { |act| MOVING.any? { |verb| act.key?(verb) } }

      MOVING = %i[turn connect disconnect fit unfit level adjust restore close].freeze
      private_constant :MOVING

      # Other things were done at the bench instead of what comes next.
      def gone_on? = reach < @entries.size

      # So far one looks for what comes next: after that many other acts it is no longer this that was meant.
      #
      # @return [Integer] index of the first entry beyond
      def reach
        @reach[@pointer] ||= work_from(@pointer).drop(GONE_ON - 1).first&.succ || @entries.size
      end

      def work_from(place) = (place...@entries.size).lazy.reject { |index| @entries[index].action.paper? }

      # @return [Hash, nil] what was turned or moved by the way, that this step leaves alone
      def put_right
        return if @entries.empty?

        now = @entries.last.span.state
        turns = @step.acts.flat_map { |act| act.fetch(:turn, {}).keys }
        WayBack.new(now, with_placed(now), besides: turns).next_act
      end

      # What hangs already where this step puts it may hang there.
      def with_placed(now)
        placed = ->(verb, ends) do
          wanted = @step.acts.filter_map { |act| act[verb] }.reduce({}, :merge)
          ends.select { |id, place| wanted[id].to_s == place.to_s }
        end
        @setting.with(
          hose_ends: @setting.hose_ends.merge(placed.call(:connect, now.hose_ends)),
          fittings: @setting.fittings.merge(placed.call(:fit, now.fittings)),
          gauge_in: now.gauge_in
        )
      end

      # To the bench as it stood when the step was begun, or the one that put on what has been moved since: what hangs
      # on a cock anew has air in it. Whoever has put it so goes on from there, whatever is moved later.
      def lead_back
        stood = (@pointer + GONE_ON - 1...@entries.size).find { |index| way_back(index, begun_before(index)).nil? }
        index = stood || @entries.size - 1
        from = begun_before(index)
        unless stood
          fields = way_back(index, from)
          throw(:next, Next.new(kind: :act, fields: fields, step: from.step, flags: @round.flags))
        end
        @pointer = stood + 1
        @time_s = [@time_s, @times[stood]].max
        @setting = from.setting
        throw(:back_to, from.step.id)
      end

      def way_back(index, begun) = WayBack.new(@entries[index].span.state, begun.setting).next_act

      # @param index [Integer] of the entry up to which one looks for what was moved
      # @return [Begun]
      def begun_before(index)
        moved = @entries[@pointer..index].filter_map { |entry| moved_by(entry.action) }
        list = @begun.select { |one| one.round.equal?(@round) && one.step.closing? == @step.closing? }
        list.find { |one| puts_on(one.step).intersect?(moved) } || list.last
      end

      HANGING = %i[connect disconnect fit unfit].freeze
      private_constant :HANGING

      # @return [String, nil] the hose or fitting
      def moved_by(action) = ((action[:hose] || action[:fitting]).to_s if HANGING.include?(action.kind))

      def puts_on(step)
        names = step.acts.flat_map { |act| [*act[:connect]&.keys, *act[:fit]&.keys] }
        names.map { |name| name.to_s.delete_suffix("_near") }
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

      # Whoever acts at the very moment has seen it; what comes after now nobody has.
      def discharge_within(port, seconds)
        ahead = next_work
        till = ahead ? [@times[ahead], @now_s].min : @now_s
        seconds = (till - @time_s).clamp(0.0, seconds)
        return super if @time_s + seconds > @now_s - TICK_S

        key = [:discharges, port, @time_s, seconds]
        @memo.fetch(key) { @memo[key] = super }
      end
    end
  end
end
