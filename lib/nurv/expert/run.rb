# frozen_string_literal: true

require "forwardable"

module Nurv
  module Expert
    # What a tester who makes no mistake did at a station by one procedure, and what came of it.
    class Run
      extend Forwardable

      attr_reader :outcome, :log, :moments, :mending, :end_s

      # @param variant [Stations::Variant]
      # @param procedure [Procedures::Procedure]
      # @return [Run] worked through on the simulator, which takes about half a second
      # @raise [DataError, RefusedAction] for a procedure whose acts cannot be done there
      def self.of(variant, procedure) = Tester.new(variant, procedure).run

      # @param outcome [Outcome] of the test, not of the one after a repair
      # @param log [Bench::Log] like any trainee's
      # @param moments [Hash{Symbol => Float}] step => simulated seconds at which it was begun
      # @param mending [Array<Array(String, String)>] part and what was done to it
      # @param again [Round, nil] the test after the repair
      # @param end_s [Float] simulated seconds at which the report was handed in
      def initialize(outcome:, log:, moments:, mending:, again:, end_s:)
        @outcome = outcome
        @log = log
        @moments = moments
        @mending = mending
        @again = again
        @end_s = end_s
        freeze
      end

      def_delegators :outcome, :procedure, :values, :verdict, :overalls, :diagnoses, :diagnoses_from, :stopped?

      # @return [Array<Symbol>] steps of the test, as done
      def steps = outcome.round.steps

      # @return [Array<Symbol>] what was noticed in the test
      def flags = outcome.round.flags

      # @return [Hash{Symbol => String}, nil] what was read after the repair
      def retest_values = @again&.values
    end
  end
end
