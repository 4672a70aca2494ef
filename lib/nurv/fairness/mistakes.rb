# frozen_string_literal: true

module Nurv
  module Fairness
    # Mistakes planted in the work of a tester who makes no other, wherever a procedure's own data says that they can be
    # made: for each step left out, and for each requirement, one way of not meeting it.
    class Mistakes
      # title [String]; mistakes [Array<Symbol>]; log [Proc] makes it; step [Symbol] and change [Proc] what is changed
      Plant = Struct.new(:title, :mistakes, :log, :step, :change, keyword_init: true)
      # Two of them at once: each with the one that many places on.
      APART = 4

      # @param hand [Hand]
      # @param procedure [Procedures::Procedure]
      def initialize(hand, procedure)
        @hand = hand
        @procedure = procedure
        @called_for = hand.truth.steps
      end

      # @return [Array<Plant>] each with what makes its log
      def plants = left_out + bent + pairs

      private

      def steps = @procedure.steps.select { |step| @called_for.include?(step.id) && !step.optional? }

      # --- steps left out, with all that cannot be done without them

      def left_out
        steps.filter_map do |step|
          next if step.acts.empty? || NEVER_ALONE.include?(step.id)
          next hardly_bled(step) if bleeds?(step)

          gone = [step.id, *dependants(step.id)]
          plant("#{step.id} left out", [left_out_as(step)], step.id) { |id, acts| gone.include?(id) ? [] : acts }
        end
      end

      # Of a step that bleeds, the rest is done: a hose on a cock that stays shut tells nothing.
      def hardly_bled(step)
        changed = bleed_hardly(step.acts, nil, step)
        plant("#{step.id}: hardly bled", [step.missed], step.id) { |id, acts| (id == step.id) ? changed : acts }
      end

      def bleeds?(step) = step.tried && step.matched.any? { |clause| clause.key?(:bled) }

      # Where nothing is turned the needle could be read all the same; it only was not.
      def left_out_as(step)
        reads = step.acts.any? { |act| act.key?(:jot) } && step.acts.none? { |act| act.key?(:turn) }
        reads ? :reading_missing : step.missed
      end

      # What comes back of itself, or is done by the steps after it as well.
      NEVER_ALONE = %i[reopen close_everything].freeze

      def dependants(id)
        direct = @procedure.steps.select { |step| step.follows_from.include?(id) && !step.closing? }.map(&:id)
        direct.flat_map { |one| [one, *dependants(one)] }.uniq
      end

      # --- two at once

      def pairs
        bent.each_with_index.filter_map do |one, index|
          other = bent[index + APART] or next
          next if one.step == other.step || one.mistakes == other.mistakes

          both = ->(id, acts) { other.change.call(id, one.change.call(id, acts)) }
          plant("#{one.title} and #{other.title}", one.mistakes + other.mistakes, one.step, &both)
        end
      end

      # --- requirements not met

      def bent = @bent ||= steps.flat_map { |step| step.must.filter_map { |clause| against(step, clause) } }

      def against(step, clause)
        name, value = clause.find { |key, _| WAYS.key?(key) }
        return if name.nil? || excused?(clause)

        changed = WAYS.fetch(name).bind_call(self, step.acts, value, step)
        return if changed.nil? || changed == step.acts

        mistake = clause[:mistake].to_sym
        plant("#{step.id}: #{mistake}", [mistake], step.id) { |id, acts| (id == step.id) ? changed : acts }
      end

      # It is not asked for at a station like this.
      def excused?(clause) = (clause[:unless] || []).map(&:to_sym).intersect?(@hand.truth.run.flags)

      def plant(title, mistakes, step, &change) =
        Plant.new(
          title: title,
          mistakes: mistakes,
          log: -> { @hand.log(steps: steps.map(&:id), &change) },
          step: step,
          change: change
        )

      # The acts with those that turn a control to somewhere exchanged for others.
      def turning(acts, control, to)
        acts.map { |act| (act[:turn]&.keys == [control] && (to.nil? || to === act[:turn][control])) ? yield(act) : act }
      end

      def upstream_first(acts, order, _step)
        names = order.map(&:to_sym)
        swapped = {names.first => names.last, names.last => names.first}
        acts.map do |act|
          next act unless act[:turn]&.size == 1

          act.merge(turn: act[:turn].transform_keys { |control| swapped.fetch(control, control) })
        end
      end

      def one_at_a_time(_acts, cocks, _step) =
        cocks.reverse.map(&:to_sym).flat_map do |cock|
          [{turn: {cock => 1.0}}, {wait: 2}, {turn: {cock => 0.0}}, {wait: 1}]
        end

      def swap(acts, controls, opening)
        first, second = controls.map(&:to_sym)
        wanted = ->(act, control) { act[:turn]&.keys == [control] && act[:turn][control].positive? == opening }
        at = [first, second].map { |control| acts.rindex { |act| wanted.call(act, control) } }
        return if at.any?(&:nil?)

        acts.dup.tap { |list| list[at[0]], list[at[1]] = list[at[1]], list[at[0]] }
      end

      def open_in_wrong_order(acts, controls, _step) = swap(acts, controls, true)

      def close_in_wrong_order(acts, controls, _step) = swap(acts, controls, false)

      def slam(acts, control, _step)
        at = acts.rindex { |act| act[:turn]&.keys == [control.to_sym] && act[:turn][control.to_sym].zero? }
        at && acts.dup.tap { |list| list[at] = list[at].merge(speed: "fast") }
      end

      def open_fast(acts, controls, _step)
        names = Array(controls).map(&:to_sym)
        acts.map { |act| (act[:restore] || opens?(act, names)) ? act.merge(speed: "fast") : act }
      end

      def opens?(act, names) = act[:turn].to_h.any? { |name, to| names.include?(name) && to.positive? }

      def turn_further(acts, limits, _step)
        control, turns = limits.first
        at = acts.rindex { |act| act[:turn]&.keys == [control] && act[:turn][control].positive? } or return
        # The first time it is opened in the step, and no other.
        at = acts.index { |act| act[:turn]&.keys == [control] && act[:turn][control].positive? } || at
        acts.dup.tap { |list| list[at] = list[at].merge(turn: {control => turns + 0.3}) }
      end

      def turn_less(acts, limits, _step)
        control, turns = limits.first
        turning(acts, control, nil) { |act| act.merge(turn: {control => turns / 2.0}) }
      end

      def look_at_gauge(acts, _thing, _step) =
        acts.map { |act| [nil, "gauge"].include?(act[:watch]) ? act : {watch: "gauge"} }

      # A hand's breadth and a half above where it belongs.
      def hold_elsewhere(acts, level, _step)
        held = {act: {kind: "level", to: @hand.level_in(level) + 6.0}}
        at = acts.index { |act| act.key?(:level) }
        at ? acts.dup.tap { |list| list[at] = held } : [held, *acts]
      end

      # What has sunk that low needs no waiting for.
      def cut_short(acts, rule, step)
        return unless rule[:seconds].positive? && @hand.truth.run.flags.empty?
        return if sunk?(step, rule.fetch(:or_below_psid, -1.0))

        acts.map { |act| (act[:wait].to_f > 10) ? {wait: 4} : act }
      end

      def sunk?(step, psid) =
        @procedure.items.values.any? do |item|
          number = Procedures::Item.number(@hand.truth.values[item.id])
          item.step == step.id && number && number < psid
        end

      def judge_at_once(acts, _seconds, _step) =
        acts.reject { |act| act[:until]&.key?(:steady) }.map { |act| (act[:wait].to_f >= 20) ? {wait: 3} : act }

      def bleed_hardly(acts, _hoses, _step)
        acts.map { |act| act[:until]&.key?(:bled) ? {wait: 0.3} : act }
      end

      def leave_shut(acts, control, _step) =
        acts.reject { |act| act[:turn]&.keys == [control.to_sym] && act[:turn].values.first.positive? }

      WAYS = {
        opened_in_order: instance_method(:upstream_first),
        run_together: instance_method(:one_at_a_time),
        opened_before: instance_method(:open_in_wrong_order),
        closed_before: instance_method(:close_in_wrong_order),
        closed_slowly: instance_method(:slam),
        opened_slowly: instance_method(:open_fast),
        at_most_turns: instance_method(:turn_further),
        at_least_turns: instance_method(:turn_less),
        watching: instance_method(:look_at_gauge),
        level: instance_method(:hold_elsewhere),
        lasted: instance_method(:cut_short),
        lasted_or_event: instance_method(:judge_at_once),
        bled: instance_method(:bleed_hardly),
        reopened: instance_method(:leave_shut)
      }.freeze
      private_constant :WAYS, :NEVER_ALONE
    end
  end
end
