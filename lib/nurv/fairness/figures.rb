# frozen_string_literal: true

module Nurv
  module Fairness
    # What came of a survey, counted.
    class Figures
      # @param trials [Array<Trial>]
      def initialize(trials)
        @trials = trials
      end

      # @return [Array<Trial>]
      def good = @trials.select(&:good?)

      # @return [Array<Trial>]
      def mistaken = @trials.reject(&:good?)

      # @return [Float] of the mistakes planted, the share that was named
      def recall = share(found, @trials.sum { |trial| trial.wanted.size })

      # @return [Float] of the mistakes named, in all logs, the share that had been planted
      def precision = share(found, @trials.sum { |trial| trial.got.size })

      # @return [Array<Trial>] what was not marked rightly
      def wrong = @trials.reject(&:right?)

      # @yieldparam key [Object]
      # @return [Hash{Object => Figures}]
      def by(&) = @trials.group_by(&).transform_values { |trials| Figures.new(trials) }

      private

      def found = @trials.sum { |trial| (trial.wanted & trial.got).size }

      def share(part, whole) = whole.zero? ? 1.0 : part / whole.to_f
    end
  end
end
