# frozen_string_literal: true

module Nurv
  module Grading
    # How far a tester is, worked out act by act for those who watch a room: steps reached and harmful acts just done.
    # A quick look ahead of the grade, which alone counts.
    class Progress
      # times: Hash step => ms at which it was reached; procedure: name of the one followed
      attr_reader :times, :alarms, :last, :procedure

      # @param data [Hash] as given by #to_h; empty at the start
      def initialize(data = {})
        @times = data.fetch(:times, {}).transform_keys(&:to_sym)
        @alarms = data.fetch(:alarms, [])
        @last = data[:last]
        @procedure = data[:procedure]
      end

      # @param recent [Bench::Replay] the last stretch of the attempt, its newest entry last
      # @param procedure [Procedures::Procedure]
      # @return [Progress]
      def after(recent, procedure)
        chronicle = Chronicle.new(recent, procedure)
        index = chronicle.size - 1
        fresh = fresh_steps(chronicle, procedure, index).to_h { |id| [id, chronicle.action(index).at_ms] }
        Progress.new(
          times: times.merge(fresh),
          alarms: @alarms + alarm(chronicle, index),
          last: chronicle.action(index).to_h,
          procedure: procedure.id
        )
      end

      # @return [Array<Symbol>] steps, in the order they were reached
      def reached = times.keys

      # @return [Integer] ms to go back to so that the step reached last is still to be done
      def before_last_step_ms = times.values.uniq.sort[-2] || 0

      # @return [Float] 0..1, of the steps that every test by this procedure has
      def share(procedure)
        wanted = procedure.steps.reject { |step| step.only.any? || step.optional? }.map(&:id)
        (reached & wanted).size / wanted.size.to_f
      end

      # @return [Procedures::Step, nil] the first step that is not reached and whose time has come
      def next_step(procedure) =
        procedure.steps.find do |step|
          !step.optional? && step.only.empty? && !reached.include?(step.id) && (step.after - reached).empty?
        end

      # @return [Hash{Symbol => Object}] taken up again by .new
      def to_h = {times: times, alarms: alarms, last: last, procedure: procedure}

      # @return [String]
      def to_json(*) = JSON.generate(to_h, strict: true)

      private

      def fresh_steps(chronicle, procedure, index)
        procedure
          .steps
          .reject { |step| reached.include?(step.id) || (step.after - reached).any? }
          .select { |step| Conditions.new(chronicle, step).hold?(step.matched, index) }
          .map(&:id)
      end

      def alarm(chronicle, index)
        action = chronicle.action(index)
        mistake =
          case action.kind
          when :turn
            shutoff_alarm(chronicle, index, action)
          when :connect
            chronicle.variant.station.findings.any?(&:stops?) ? :went_on : nil
          end
        mistake ? [[action.at_ms, mistake]] : []
      end

      def shutoff_alarm(chronicle, index, action)
        valve = action.named(:valve)
        return unless chronicle.variant.station.assembly.shutoff_valves.include?(valve)

        opening = chronicle.turned(index, valve) == 1
        return (Conditions.new(chronicle, nil).told?("shutdown", index) ? nil : :not_notified) unless opening
        return :shutoff_opened_fast if snatched?(chronicle, index, valve)

        :water_on_unannounced if valve == :shutoff_valve_2 && !Conditions.new(chronicle, nil).told?("water_on", index)
      end

      # By the button that says so, or by a hand that the grade will say so of.
      def snatched?(chronicle, index, valve)
        action = chronicle.action(index)
        return action[:speed].to_s == "fast" unless action[:over]

        chronicle.rate_of(index, valve) > Requirements::SLOW_OPENINGS_PER_S
      end
    end
  end
end
