# frozen_string_literal: true

module Nurv
  module Expert
    # What a correct tester finds at a station by one procedure. Computed by an expert run, never written down.
    class Truth
      attr_reader :run

      # Truths are asked for again and again with the same answer; they may be thrown away at any time.
      CACHE = {}
      LOCK = Mutex.new
      CACHE_SIZE = 400
      private_constant :CACHE, :LOCK

      # @param after_repair [Boolean] of a bench already mended: nothing more is mended
      def self.of(variant, procedure, after_repair: false)
        variant = Stations::Variant.new(variant.station.as_reported, variant.seed) if after_repair
        station = variant.station
        key = [station.catalog.object_id, station.data, variant.seed, procedure.fingerprint]
        LOCK.synchronize { CACHE[key] } ||
          new(variant, procedure).tap do |truth|
            LOCK.synchronize do
              CACHE.shift if CACHE.size >= CACHE_SIZE
              CACHE[key] = truth
            end
          end
      end

      # @param variant [Stations::Variant]
      # @param procedure [Procedures::Procedure]
      def initialize(variant, procedure)
        @variant = variant
        @lock = Mutex.new
        @run = Run.of(variant, procedure)
      end

      # @return [Procedures::Procedure] the one it was found by
      def procedure = run.procedure

      # @return [Stations::Station] as drawn for this seed
      def station = @variant.station

      # @return [Hash{Symbol => String}] item => as a correct tester writes it
      def values = run.values

      # @return [Reports::Verdict]
      def verdict = run.verdict

      # @param verdict [Reports::Verdict] from what a tester recorded
      # @return [Array<Symbol>] what may be written for the whole, what a correct tester writes first
      def overalls(verdict) = run.overalls(verdict)

      # @param values [Hash{Symbol => String}] as a tester recorded them
      # @return [Array<String>] what follows from those and from what is to be seen here
      def diagnoses_from(values) = run.diagnoses_from(values)

      # @return [Reports::Verdict, nil] of the test after the repair
      def retest_verdict = run.retest_values && Reports::Verdict.new(procedure, run.retest_values)

      # @return [Array<Symbol>] steps that were called for, as done
      def steps = run.steps

      # What is really wrong, like "check_valve_1:fouled": from the station, not from the run.
      # A site that must not be tested hides whatever is wrong inside.
      def faults = stopped? ? [Outcome::MUST_NOT_TEST] : inner_faults

      # @return [Boolean] something here forbids the test
      def stopped? = run.stopped?

      # @return [Array<String>] what is wrong with assembly and line, whether or not the test may go on
      def inner_faults =
        (@variant.station.faults.map { |item| "#{item.fault.component}:#{item.fault.reason}" } + line_faults +
          number_faults).uniq

      # @return [Array<String>] what the expert concludes, like ["check_valve_1:fouled"]; empty: nothing wrong
      def diagnoses = run.diagnoses

      # @return [Boolean] the expert finds what is wrong, and nothing that is not
      def solvable? = diagnoses.sort == faults.sort

      # @return [Boolean] the expert mended something here
      def repairs? = run.mending.any?

      # @return [Array<Array(String, String)>] part and what was done to it
      def mending = run.mending

      # @return [Float, nil] psid between check valve 1 and the relief valve's opening; nil without both
      def buffer_psid = procedure.buffer_psid(values)

      # The last moment of a step in the correct tester's run, just before the next one begins.
      #
      # @param step [Symbol, nil] the end of the run, if it has no such step
      # @return [Float] seconds
      def end_of(step)
        starts = run.moments.values
        from = run.moments[step] || run.end_s
        (starts.select { |time| time > from + 0.5 }.min || run.end_s) - 0.2
      end

      # The correct tester's bench at a moment of their run.
      #
      # @yield [Bench::Span] to be read in here only, since looking ahead works on shared arrays
      def at(time_s) = @lock.synchronize { yield((@replay ||= Bench::Replay.new(@variant, run.log)).span_at(time_s)) }

      private

      # A spring or an opening point that was given as a number below its limit is as wrong as one that a fault has set.
      def number_faults
        return [] if @variant.station.faults.any?

        procedure.conclusions.filter_map do |conclusion|
          item, limit = conclusion[:below]&.first
          conclusion[:says] if item && number_of(procedure.items.fetch(item.to_sym).component)&.<(limit)
        end
      end

      # @return [Float, nil] psid that the part is set to here
      def number_of(component) = @variant.station.springs_psid[component] || @variant.station.openings_psid[component]

      # A main that swings this much cannot be read with two hoses.
      def line_faults =
        (@variant.swing_psi > 0.4 && procedure.concludes?("supply:fluctuates")) ? ["supply:fluctuates"] : []
    end
  end
end
