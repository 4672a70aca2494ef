# frozen_string_literal: true

module Nurv
  module Fairness
    # Logs of testers who do it right, each in another way: slower, in stages, with looks in between, in another order
    # of what has none, done over, and written down otherwise.
    class GoodLogs
      # Acts that say nothing and change nothing.
      IDLE = [{wait: 3}, {watch: "gauge"}, {wait: 2}].freeze
      # Steps that may be done over on the spot.
      AGAIN = %i[flush bleed reset_for_check_valve_2 reset_for_confirmed].freeze

      # @param hand [Hand]
      # @param procedure [Procedures::Procedure]
      def initialize(hand, procedure)
        @hand = hand
        @procedure = procedure
      end

      # @return [Hash{String => Proc}] title => what makes the log
      def ways =
        {
          "as taught" => -> { @hand.log },
          "slowly" => -> { @hand.log { |_, acts| acts.map { |act| act[:wait] ? {wait: act[:wait] * 2.5} : act } } },
          "in stages" => -> { @hand.log { |_, acts| acts.flat_map { |act| staged(act) } } },
          "with looks in between" => -> { @hand.log { |_, acts| acts.flat_map { |act| idle(act) } } },
          "done over" => -> { @hand.log { |id, acts| AGAIN.include?(id) ? acts + [{wait: 3}] + acts : acts } },
          "without a notebook" => -> { @hand.log.reject { |act| act[:kind] == "jot" } },
          "numbers with a comma" => -> { written { |number| number.tr(".", ",") } },
          "numbers with a unit" => -> { written { |number| "#{number} psid." } },
          **swaps
        }

      private

      # Two neighbours among the steps change places where nothing says which comes first.
      def swaps
        ids = @procedure.steps.map(&:id)
        free_pairs.to_h do |one, other|
          order = ids.dup
          at = order.index(one)
          order[at], order[at + 1] = other, one
          ["#{other} before #{one}", -> { @hand.log(order: order) }]
        end
      end

      def free_pairs =
        @procedure.steps.each_cons(2).filter_map do |one, other|
          [one.id, other.id] if free?(one) && free?(other) && !other.after.include?(one.id)
        end

      # Of looking, asking and announcing it does not matter which is first.
      def free?(step) = !step.closing? && step.acts.all? { |act| %i[look tell canopy].any? { |verb| act.key?(verb) } }

      def staged(act)
        return [act] unless act[:turn]&.size == 1

        control, to = act[:turn].first
        return [act] unless [0.0, 1.0].include?(to) && control.to_s.match?(/shutoff|test_cock/)
        # A cock that only trickles is not stopped on its way to being shut.
        return [act] if control.to_s.start_with?("test_cock") && to.zero?

        [act.merge(turn: {control => 0.5}), {wait: 1}, act]
      end

      def idle(act) = (act.key?(:connect) || act.key?(:look)) ? [*IDLE, act] : [act]

      def written
        @hand.log.map do |act|
          next act unless act[:value].to_s.match?(/\A\d+\.\d\z/)

          act.merge(value: yield(act[:value]))
        end
      end
    end
  end
end
