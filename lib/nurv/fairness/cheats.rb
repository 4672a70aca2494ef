# frozen_string_literal: true

module Nurv
  module Fairness
    # What a clever cheat might hand in. None of it may pass, and what was made without touching the bench may earn next
    # to nothing.
    class Cheats
      # title [String]; grade [Grading::Grade]; untouched [Boolean] nothing was turned or connected
      Result = Struct.new(:title, :grade, :untouched, keyword_init: true)

      # Acts of paper and of looking around: a bench that only saw these was left alone.
      ALONE = %w[fill find look tell watch submit].freeze

      # @param catalog [Catalog]
      def initialize(catalog)
        @catalog = catalog
        @matrix = Expert::Matrix.new(catalog)
      end

      # @return [Array<Result>]
      def results = [*untouched, *frozen, *written, fire_line].compact

      private

      # --- the truth, written onto a bench that was left alone

      def untouched =
        @catalog.procedures.values.flat_map do |procedure|
          hand = hand(procedure)
          full = hand.log
          paper = full.select { |act| %w[fill submit].include?(act[:kind]) }
          around = full.select { |act| ALONE.include?(act[:kind]) }
          {
            "the truth written onto an untouched bench" => paper,
            "the same, looking around and asking first" => around
          }.map { |title, acts| result("#{name(procedure)}: #{title}", hand, acts, untouched: true) }
        end

      # --- values frozen on a digital face

      def frozen = [frozen_in_reset, frozen_at_the_stop, frozen_through]

      def frozen_in_reset
        hand = hand(:r1, :check_valve_1_weak_spring, face: "digital")
        high = frozen_while(hand, hand.log, "low_bleed", 1.0, :check_valve_1_confirmed)
        result("R1: a failing check, 10.6 frozen in the reset", hand, passing(high))
      end

      def frozen_at_the_stop
        hand = hand(:r1, :check_valve_1_weak_spring, face: "digital")
        high = frozen_while(hand, hand.log, "low_bleed", 0.0, :check_valve_1_apparent, before: true)
        result("R1: the stop frozen as the apparent value", hand, passing(high))
      end

      def frozen_through
        hand = hand(:d1, :check_valve_2_fouled, face: "digital")
        log = hand.log
        first, second = log.each_index.select { |index| log[index][:kind] == "jot" }
        value = log[first][:value]
        kept = log.map.with_index { |act, index| (index == second) ? act.merge(value: value) : act }
        kept.insert(first, {kind: "capture", at_ms: kept[first][:at_ms], id: "freeze"})
        result("D1: CV1's value kept frozen through CV2", hand, passing(fill(kept, check_valve_2: value)))
      end

      # The face is frozen while the needle is high, and that is noted where the item is read.
      def frozen_while(hand, log, valve, to, item, before: false)
        turned = log.index { |act| act[:valve] == valve && act[:to] == to }
        at_ms = log[turned][:at_ms] + (before ? -300 : 1500)
        shown = format("%.1f", hand.needle_at(log, at_ms / 1000.0))
        note = log.index { |act| act[:kind] == "jot" && act[:item] == item.to_s }
        acts = log.map.with_index { |act, index| (index == note) ? act.merge(value: shown) : act }
        acts.insert(acts.index { |act| act[:at_ms] > at_ms }, {kind: "capture", at_ms: at_ms, id: "freeze"})
        fill(released(acts, acts.index { |act| act[:kind] == "jot" && act[:item] == item.to_s }), item => shown)
      end

      def released(acts, note) =
        acts.dup.insert(note + 1, {kind: "release", at_ms: acts[note][:at_ms] + 5, id: "release"})

      # --- reports that do not tell what was there

      def written
        [
          unconnected,
          neighbour,
          flipped,
          every_wrong,
          as_five_two
        ]
      end

      def unconnected
        hand = hand(:r1, :check_valve_2_fouled)
        acts = hand.log.reject { |act| act[:hose] == "bypass" || act[:valve] == "bypass_control" }
        tight = passing(fill(acts, check_valve_2_tightness: "closed tight"))
        result("R1: “CV2 closed tight” without the bypass ever connected", hand, tight)
      end

      def neighbour
        hand = hand(:r1)
        other = Hand.new(variant(procedure(:r1), nil, springs_psid: {check_valve_1: 6.9}), procedure(:r1))
        report = other.log.select { |act| act[:kind] == "fill" }.to_h { |act| [act[:field].to_sym, act[:value]] }
        own = hand.log.reject { |act| act[:kind] == "jot" }
        result("R1: a neighbour's report", hand, fill(own, **report))
      end

      def flipped
        hand = hand(:r1)
        other = {"pass" => "fail", "fail" => "pass"}
        acts =
          hand.log.map do |act|
            act[:field].to_s.start_with?("result_") ? act.merge(value: other.fetch(act[:value], act[:value])) : act
          end
        result("R1: every verdict turned round", hand, acts)
      end

      def every_wrong
        hand = hand(:r1)
        log = hand.log
        looks = log.select { |act| act[:kind] == "look" }.uniq { |act| act[:at] }
        finds = looks.map { |act| {kind: "find", finding: act[:at], at_ms: act[:at_ms], id: "find-#{act[:at]}"} }
        acts = (log + finds).sort_by { |act| act[:at_ms] }
        result("R1: “wrong” noted of everything that was looked at", hand, acts)
      end

      def as_five_two
        hand = hand(:r1, :check_valve_1_weak_spring, severity: :light)
        result(
          "R1: a weak check written up as 5.2",
          hand,
          passing(fill(hand.log, check_valve_1_confirmed: "5.2", check_valve_1_apparent: "5.2"))
        )
      end

      def fire_line
        station = @catalog.demo_stations.find { |one| one.site.fire? } or return
        hand = Hand.new(Stations::Variant.new(station, 1), station.procedures.first)
        acts = hand.log.dup
        opened = acts.rindex { |act| act[:valve] == "shutoff_valve_2" && act[:to].positive? }
        acts.delete_at(opened)
        result("#{name(station.procedures.first)}: the supply of a fire line left shut", hand, acts)
      end

      # --- making them

      def procedure(id) = @catalog.procedures.fetch(id)

      def name(procedure) = procedure.id.to_s.upcase

      def hand(procedure, fault = nil, severity: :moderate, **kit)
        procedure = procedure(procedure) if procedure.is_a?(Symbol)
        Hand.new(variant(procedure, fault && @catalog.faults.fetch(fault), severity: severity, kit: kit), procedure)
      end

      def variant(procedure, fault, severity: :moderate, kit: {}, **changes)
        station = @matrix.station(procedure, fault, fault && severity)
        data = {**station.data, **changes, kit: station.data[:kit].merge(kit)}
        Stations::Variant.new(Stations::Station.new(Facts.of(data), @catalog), 1)
      end

      def fill(acts, **fields)
        acts.map do |act|
          next act unless act[:kind] == "fill" && fields.key?(act[:field].to_sym)

          act.merge(value: fields[act[:field].to_sym])
        end
      end

      # Everything passes, and nothing is wrong.
      def passing(acts)
        acts.map do |act|
          next act unless act[:kind] == "fill"
          next act.merge(value: "pass") if act[:field] == "overall" || act[:field].start_with?("result_")

          (act[:field] == "diagnosis") ? act.merge(value: "none:healthy") : act
        end
      end

      def result(title, hand, acts, untouched: false) =
        Result.new(title: title, grade: hand.grade(acts), untouched: untouched)
    end
  end
end
