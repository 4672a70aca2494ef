# frozen_string_literal: true

module Nurv
  module Fairness
    # Readings at the edge: of a limit, of the tolerance, of what can be read as a number.
    class Borders
      # shown, written [String]; wanted [Symbol, nil] the mistake there should be; pass [Boolean] the verdict given
      Row =
        Struct.new(:title, :shown, :written, :verdict, :wanted, :got, keyword_init: true) do
          # @return [Boolean] marked as it should be
          def right? = got == Array(wanted)
        end

      LIMIT = 5.0
      # Policy's usual tolerance and half a graduation, psid, of what is brought to a tenth first.
      TOLERATED = 0.25
      # As people write five point nought psid, and what is none.
      SPELLINGS =
        ["5.0", "5,0", "5", "5.", "5.0 psid", "5.0psi.", "5.0!", " 5.0 ", "34.5 kPa", "34,5kpa", "4.96"].freeze
      NONE = ["n/a", "0x5", "five", "5.0.1", "5-0"].freeze

      # @param catalog [Catalog]
      def initialize(catalog)
        @catalog = catalog
        @procedure = catalog.procedures.fetch(:r1)
      end

      # @param every [Integer] only each so-manieth of them
      # @return [Array<Row>]
      def rows(every: 1)
        cases = near_limit + near_tolerance + spelled
        cases.each_slice(every).map { |some| row(*some.first) }
      end

      private

      # The needle stands at the limit or a tenth beside it, and is written as it stands: the limit decides.
      def near_limit =
        [4.9, 5.0, 5.1].flat_map do |spring|
          number = format("%.1f", spring)
          right = (spring >= LIMIT) ? "pass" : "fail"
          wrong = (right == "pass") ? "fail" : "pass"
          [
            ["at the limit", spring, number, right, nil],
            ["at the limit, judged the other way", spring, number, wrong, :wrong_verdict]
          ]
        end

      # The needle stands at the limit, and is written further and further off it.
      def near_tolerance =
        [0.15, 0.2, 0.25, 0.3, 0.35].flat_map do |off|
          [-1, 1].map do |way|
            text = format("%.2f", LIMIT + way * off)
            verdict = (Written.psid(text) >= LIMIT) ? "pass" : "fail"
            beyond = (Written.psid(text) - LIMIT).abs > TOLERATED
            ["beside what was shown", LIMIT, text, verdict, beyond ? :never_shown : nil]
          end
        end

      def spelled =
        SPELLINGS.map { |text| ["spelled", LIMIT, text, "pass", nil] } +
          NONE.map { |text| ["no number", LIMIT, text, "pass", :reading_missing] }

      def row(title, spring, text, verdict, wanted)
        hand = hand(spring)
        graded = hand.grade(written(hand.log, text, verdict, wanted))
        Row.new(
          title: title,
          shown: format("%.1f", spring),
          written: text,
          verdict: verdict,
          wanted: wanted,
          got: graded.mistakes
        )
      end

      def hand(spring)
        @hands ||= {}
        @hands[spring] ||= Hand.new(Stations::Variant.new(station(spring), 1), @procedure)
      end

      def station(spring)
        usual = Expert::Matrix.new(@catalog).station(@procedure, nil, nil).data
        Stations::Station.new(Facts.of({**usual, springs_psid: {check_valve_1: spring}}), @catalog)
      end

      # The confirmed value in the report alone; whole and cause go with the verdict, unless that is what is wrong or
      # the value itself is.
      def written(log, text, verdict, wanted)
        fields = {check_valve_1_confirmed: text, result_check_valve_1: verdict}
        fields[:overall] = verdict unless wanted == :wrong_verdict
        fields[:diagnosis] = (verdict == "pass") ? "none:healthy" : "check_valve_1:weak_spring" unless wanted
        log
          .reject { |act| act[:kind] == "jot" && act[:item] == "check_valve_1_confirmed" }
          .map { |act| filled(act, fields) }
      end

      def filled(act, fields)
        return act unless act[:kind] == "fill" && fields.key?(act[:field].to_sym)

        act.merge(value: fields[act[:field].to_sym])
      end
    end
  end
end
