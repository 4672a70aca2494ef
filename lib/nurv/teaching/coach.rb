# frozen_string_literal: true

module Nurv
  module Teaching
    # What a coach says at a practice bench: a question first, the reason second, the act last. It follows what the
    # bench shows, by the procedure's own data.
    class Coach
      # lost [Array<Remark>] what has just been lost; question, reason, act [Array<Remark>]; more of them is said the
      # more is asked. noticed [Array<Symbol>] what there was to be seen on the way; fields [Hash, nil] of the act;
      # seconds [Float, nil] still to be waited for
      Advice = Struct.new(:lost, :question, :reason, :act, :noticed, :fields, :seconds, :step, keyword_init: true)
      # So short a wait is only a breath, s.
      SOON_S = 5.0
      # How much is said unasked.
      MODES = %i[quiet nudges talks].freeze

      # @param procedure [Procedures::Procedure]
      # @param memo [Reader::Memo] kept by whoever asks again and again at one bench
      # @param truth [Proc, nil] what it gives is the truth of this bench, or nil as long as that is worked out: with
      #   it, what has just been lost is said
      def initialize(procedure, memo = Reader::Memo.new, truth: nil)
        @procedure = procedure
        @memo = memo
        @truth = truth
        @told = []
        @signed = Hash.new { |hash, flag| hash[flag] = [] }
      end

      # @param replay [Bench::Replay] what was done so far
      # @param now_s [Float] simulated seconds
      # @return [Advice]
      def advice(replay, now_s)
        found = Reader.new(replay, @procedure, now_s, @memo).next
        ahead = soon(replay, now_s, found)
        Advice.new(
          lost: just_lost(replay),
          question: [*signs(found), *question(ahead || found)],
          reason: reason(ahead || found),
          act: [act(found), *(act(ahead) if ahead)],
          noticed: found.flags,
          fields: found.fields,
          seconds: found.seconds,
          step: found.step
        )
      end

      private

      # Each once: who knows may do it again.
      def just_lost(replay)
        truth = @truth&.call or return []
        lost = Risks.new(replay, truth, @procedure).lost
        fresh = lost.reject { |one| @told.include?([one.step, one.mistake]) }
        @told |= fresh.map { |one| [one.step, one.mistake] }
        fresh.last(1).map { |one| Remark.new(:coach_lost, mistake: one.mistake, remark: one.happened) }
      end

      # A moment's breath is no news: what comes after it is said as well. Nothing seen ahead is remembered, since the
      # tester may do something else.
      #
      # @return [Reader::Next, nil]
      def soon(replay, now_s, found)
        # Shorter still, and it waits for something to be seen.
        return unless found.kind == :wait && found.seconds.between?(Expert::Tester::TICK_S + 0.01, SOON_S)

        ahead = Reader.new(replay, @procedure, now_s + found.seconds.ceil(3), @memo.dup).next
        ahead if ahead.kind == :act
      end

      # What the bench has shown last that the way to go on hangs on: said where it is seen, and where it leads to.
      def signs(found)
        flag = (found.flags & SIGNS).last or return []
        steps = @signed[flag] |= [found.step&.id]
        (steps.index(found.step&.id) < 2) ? [Remark.new(:coach_sign, flag: flag)] : []
      end

      # Of what may be noticed, that which another branch follows from.
      SIGNS = %i[
        demand
        relief_wet
        relief_did_not_open
        check_valve_1_leaks
        check_valve_2_leaks
        check_valve_2_leaked
        check_valve_leaks
        shutoff_valve_1_leaks
        shutoff_valve_2_leaks
        back_pressure
        swings
        needle_holds
        air_inlet_did_not_open
        opens_partly
        flow
        wet_at_rest
      ].freeze
      private_constant :SIGNS

      def question(found)
        return [Remark.new(:coach_ask_done)] if found.kind == :done
        return [Remark.new(:coach_ask_wait)] if found.kind == :wait

        kind = found.fields[:kind].to_sym
        return [about_turn(found.fields[:valve].to_sym)] if kind == :turn

        [QUESTIONS.fetch(kind, Remark.new(:coach_ask_bench))]
      end

      def about_turn(valve)
        return Remark.new(:coach_ask_shutoff) if valve.start_with?("shutoff")
        return Remark.new(:coach_ask_cock) if valve.start_with?("test_cock")

        Remark.new(:coach_ask_kit)
      end

      QUESTIONS = {
        connect: Remark.new(:coach_ask_hose),
        disconnect: Remark.new(:coach_ask_off),
        fit: Remark.new(:coach_ask_fitting),
        unfit: Remark.new(:coach_ask_off),
        level: Remark.new(:coach_ask_height),
        tell: Remark.new(:coach_ask_people),
        look: Remark.new(:coach_ask_look),
        watch: Remark.new(:coach_ask_eyes),
        jot: Remark.new(:coach_ask_note),
        fill: Remark.new(:coach_ask_report),
        submit: Remark.new(:coach_ask_report),
        find: Remark.new(:coach_ask_wrong),
        declare: Remark.new(:coach_ask_besides),
        repair: Remark.new(:coach_ask_repair),
        cap: Remark.new(:coach_ask_cock),
        adapt: Remark.new(:coach_ask_cock),
        tighten: Remark.new(:coach_ask_shutoff),
        power: Remark.new(:coach_ask_gauge),
        light: Remark.new(:coach_ask_gauge),
        forget: Remark.new(:coach_ask_gauge)
      }.freeze
      private_constant :QUESTIONS

      def reason(found) = found.step ? [Remark.new(:coach_step, step: found.step.id, typed: found.step.why)] : []

      def act(found)
        case found.kind
        when :done then Remark.new(:coach_done)
        when :wait then Remark.new(:coach_wait, seconds: found.seconds.ceil)
        else worded(found.fields)
        end
      end

      def worded(fields)
        case fields[:kind].to_sym
        when :turn then turned(fields)
        when :connect then Remark.new(:coach_connect, hose: fields[:hose], place: fields[:to].to_sym)
        when :disconnect then Remark.new(:coach_disconnect, hose: fields[:hose])
        when :fit then Remark.new(:coach_fit, fitting: fields[:fitting], place: fields[:to].to_sym)
        when :unfit then Remark.new(:coach_unfit, fitting: fields[:fitting])
        when :level then Remark.new(:coach_level, inches: fields[:to].to_f)
        when :jot then Remark.new(:coach_jot, fields: [fields[:item].to_sym])
        when :fill then Remark.new(:coach_fill, fields: [fields[:field].to_sym])
        when :look then Remark.new(:coach_look, done_things: [fields[:at]])
        when :watch then Remark.new(:coach_watch, thing: fields[:at])
        when :tell then Remark.new(:coach_tell, topic: fields[:topic])
        when :find then Remark.new(:coach_find, thing: fields[:finding])
        when :canopy then Remark.new(:coach_canopy, thing: fields[:to])
        when :clean then Remark.new(:coach_clean, control: fields[:at])
        when :repair then Remark.new(:coach_repair, parts: [fields[:component]])
        when :declare then Remark.new(:coach_declare, step: fields[:what])
        when :submit then Remark.new(:coach_submit)
        when :swap_ends then Remark.new(:coach_swap, hose: fields[:hose])
        else readied(fields)
        end
      end

      CAPS = {"on" => :coach_cap_on, "off" => :coach_cap_off}.freeze
      ADAPTERS = {"on" => :coach_adapter_on, "off" => :coach_adapter_off}.freeze
      private_constant :CAPS, :ADAPTERS

      def readied(fields)
        case fields[:kind].to_sym
        when :cap then Remark.new(CAPS.fetch(fields[:to]), control: fields[:at].to_sym)
        when :adapt then Remark.new(ADAPTERS.fetch(fields[:to]), control: fields[:at].to_sym)
        when :tighten then Remark.new(:coach_tighten, control: fields[:valve].to_sym)
        when :tag then Remark.new(:coach_tag, control: fields[:as].to_sym)
        when :power then Remark.new(:coach_power)
        when :light then Remark.new(:coach_light)
        when :forget then Remark.new(:coach_forget)
        end
      end

      def turned(fields)
        control = fields[:valve].to_sym
        return Remark.new(:coach_close, control: control) if fields[:to].zero?
        return Remark.new(:coach_open, control: control) if fields[:to] >= 1.0 || control.start_with?("shutoff")

        Remark.new(:coach_turn_to, control: control, turns: fields[:to].to_f)
      end
    end
  end
end
