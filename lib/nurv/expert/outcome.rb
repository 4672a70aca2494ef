# frozen_string_literal: true

module Nurv
  module Expert
    # What a tester has found out at a station, and what follows from it by the procedure's own data.
    class Outcome
      # What a station that must not be tested is called for.
      MUST_NOT_TEST = "site:must_not_test"

      attr_reader :procedure, :station, :round

      # @param round [Round] the test
      # @param stopped [Boolean] something was found that forbids it
      def initialize(procedure, station, round, stopped)
        @procedure = procedure
        @station = station
        @round = round
        @stopped = stopped
      end

      # @return [Boolean] something was found that forbids the test
      def stopped? = @stopped

      # @return [Hash{Symbol => String}] item => as written
      def values = round.values

      # @return [Reports::Verdict] from the readings
      def verdict = Reports::Verdict.new(procedure, values)

      # What may be written for the whole. Where the test could not be finished for a shutoff that leaks, the adopted
      # procedure says what that makes of it.
      #
      # @param verdict [Reports::Verdict] from what was recorded
      # @return [Array<Symbol>] of Reports::FieldReport::OVERALL, what a correct tester writes first
      def overalls(verdict)
        return [verdict.overall] unless verdict.overall == :not_completed && shutoff_leaks?

        {fails: %i[fail], not_completed: %i[not_completed], either: %i[not_completed fail]}
          .fetch(procedure.leaking_shutoff)
      end

      # @return [Array<String>] like ["check_valve_1:fouled"]; empty when nothing is wrong
      def diagnoses
        return [MUST_NOT_TEST] if stopped?

        concluded = procedure.conclusions.select { |conclusion| follows?(conclusion) }
        concluded.map { |conclusion| conclusion[:says] }.uniq + blocked.map { |cock| "#{cock}:blocked" }
      end

      # @return [Array<Array(String, String)>] part and action for all that was found and can be mended
      def ways_to_mend
        diagnoses.filter_map do |name|
          component, reason = name.split(":").map(&:to_sym)
          fault = known_faults.find { |item| item.component == component && item.reason == reason }
          [component.to_s, fault.mended_by.first.to_s] if fault&.mended_by&.any?
        end
      end

      # @return [Boolean] here the tester mends what was found
      def repair_called_for? = station.repairs? && !stopped? && ways_to_mend.any?

      # @param values [Hash{Symbol => String}] other readings, with what was seen here
      # @return [Array<String>] what follows from those
      def diagnoses_from(values)
        other = Round.new(values, round.flags, round.steps, round.marks)
        Outcome.new(procedure, station, other, stopped?).diagnoses
      end

      private

      def shutoff_leaks? = !stopped? && diagnoses.any? { |name| name.start_with?("shutoff_valve") }

      def known_faults = station.catalog.faults.values

      def blocked = station.assembly.test_cocks.keys.select { |cock| round.flags.include?(:"#{cock}_blocked") }

      def follows?(conclusion)
        return false unless (names(conclusion[:if]) - round.flags).empty?
        return false if (names(conclusion[:unless]) & round.flags).any?
        return false if conclusion[:without] && values.key?(conclusion[:without].to_sym)
        return false if conclusion[:buffer_below] && !small_buffer?(conclusion[:buffer_below])

        within?(conclusion[:at_least]) { |number, limit| number >= limit } &&
          within?(conclusion[:below]) { |number, limit| number < limit }
      end

      def names(list) = (list || []).map(&:to_sym)

      def small_buffer?(limit_psid)
        buffer_psid = procedure.buffer_psid(values)
        !buffer_psid.nil? && buffer_psid < limit_psid
      end

      # Of what is not recorded nothing follows.
      def within?(limits)
        (limits || {}).all? do |item, limit|
          number = Procedures::Item.number(values[item])
          number && yield(number, limit)
        end
      end
    end
  end
end
