# frozen_string_literal: true

module Nurv
  module Fairness
    # Mistakes of pen and eye, planted in the log of a tester who makes no other: on the report, in the notebook, at the
    # site.
    class Papers
      # @param hand [Hand]
      # @param procedure [Procedures::Procedure]
      def initialize(hand, procedure)
        @hand = hand
        @procedure = procedure
        @truth = hand.truth
      end

      # @return [Array<Mistakes::Plant>]
      def plants = [*report, *readings, *observations, *verdicts, *site].compact

      private

      def log = @log ||= @hand.log

      def plant(title, mistake, acts) =
        (Mistakes::Plant.new(title: title, mistakes: [mistake], log: -> { acts }) unless acts == log)

      def filled(field, value) = log.map { |act| fills?(act, field) ? act.merge(value: value) : act }

      def fills?(act, field) = act[:kind] == "fill" && act[:field] == field.to_s

      def value_of(field) = log.find { |act| fills?(act, field) }&.fetch(:value)

      def report
        [
          plant("serial of another assembly", :record_wrong, filled(:serial, "ZZ-1")),
          plant("serial of another kit", :record_wrong, filled(:kit_serial, "ZZ-2")),
          plant("not signed", :record_incomplete, log.reject { |act| fills?(act, :signature) }),
          plant("nobody named as notified", :record_incomplete, filled(:notified, " ")),
          plant("another cause", :wrong_diagnosis, filled(:diagnosis, other_cause))
        ]
      end

      def other_cause = (@truth.faults.first == "check_valve_1:fouled") ? "none:healthy" : "check_valve_1:fouled"

      def readings =
        @procedure.items.values.select { |item| item.reading? && value_of(item.id) }.flat_map { |item| of(item) }

      def of(item)
        number = Written.psi(value_of(item.id)) or return []
        unnoted = log.reject { |act| act[:kind] == "jot" && act[:item] == item.id.to_s }
        [
          plant("#{item.id} not written down", :reading_missing, log.reject { |act| fills?(act, item.id) }),
          (plant("#{item.id} invented", :never_shown, with(unnoted, item, "14.3")) unless sweeps?(item)),
          plant("#{item.id} noted otherwise", :notebook_differs, noted(item, format("%.1f", number + 0.1)))
        ]
      end

      # Of what is read while the needle runs through everything, nothing was never shown.
      def sweeps?(item) = item.line_pressure? || @procedure.step(item.step)&.event

      def with(acts, item, value) = acts.map { |act| fills?(act, item.id) ? act.merge(value: value) : act }

      def noted(item, value) =
        log.map { |act| (act[:kind] == "jot" && act[:item] == item.id.to_s) ? act.merge(value: value) : act }

      def observations
        @procedure
          .items
          .values
          .select { |item| !item.reading? && !item.optional? && value_of(item.id) }
          .flat_map do |item|
            other = (item.choices.keys - [value_of(item.id), item.at_rest]).find { |words| item.result(words) == :none }
            [
              plant("#{item.id} not written down", :reading_missing, log.reject { |act| fills?(act, item.id) }),
              (plant("#{item.id} seen otherwise", :observation_wrong, filled(item.id, other)) if other)
            ]
          end
      end

      def verdicts
        verdict = @truth.verdict
        parts =
          verdict.components.map do |component, result|
            plant("#{component} not judged", :wrong_verdict, filled(:"result_#{component}", wrong(result)))
          end
        whole = (%w[pass fail not_completed] - @truth.overalls(verdict).map(&:to_s)).first
        [*parts, plant("whole judged otherwise", :wrong_overall, filled(:overall, whole))]
      end

      def wrong(result) = (result == :not_tested) ? "pass" : "not_tested"

      def site
        looked = log.index { |act| act[:kind] == "look" && act[:at] == "surroundings" }
        return [] unless looked && !@truth.stopped?

        noted = {kind: "find", finding: "surroundings", at_ms: log[looked][:at_ms], id: "planted"}
        [plant("a finding that is none", :finding_false, log.dup.insert(looked + 1, noted))]
      end
    end
  end
end
