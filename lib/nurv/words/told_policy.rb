# frozen_string_literal: true

module Nurv
  class Words
    # A policy as a trainee is told it before starting.
    class ToldPolicy
      # @param policy [Grading::Policy]
      # @param words [Words]
      def initialize(policy, words)
        @policy = policy
        @words = words
      end

      # @return [Array<Array(String, String)>] label and text
      def rows
        [
          [say(:marked_on), weights],
          [say(:to_pass), say(:of_100, points: @policy.pass_mark)],
          [say(:fails_outright), outright],
          [say(:readings), say(:within, range: Units.differential(@policy.tolerance_psid, unit: @policy.unit))],
          [say(:time), @policy.time_limit_min ? say(:minutes, minutes: @policy.time_limit_min) : say(:no_limit)],
          [say(:help), help],
          [say(:second_attempt), @words.retest(@policy.retest)]
        ]
      end

      private

      def say(key, **values) = @words.say(:"policy.#{key}", **values)

      def weights
        of_each = @policy.weights.map { |name, weight| "#{name.to_s.capitalize} #{format("%g", weight)}" }
        "#{of_each.join(" · ")} of #{format("%g", @policy.weights.values.sum)}"
      end

      # Mistakes in the middle of a sentence; abbreviations like SOV2 stay as they are.
      def outright
        list = @policy.fail_outright.map { |id| @words.mistake(id).sub(/\A[A-Z](?=[a-z ])/, &:downcase) }
        list << say(:critical_step) if @policy.critical_fails?
        list.empty? ? say(:nothing_outright) : list.join("; ")
      end

      def help
        list = [(say(:hints) if @policy.hints?), (say(:skipping) if @policy.skip_waiting?)].compact
        list.empty? ? say(:no_help) : list.join(", ")
      end
    end
  end
end
