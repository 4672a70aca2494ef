# frozen_string_literal: true

module Nurv
  module Grading
    # How far a tester is, worked out act by act for those who watch a room: steps reached and harmful acts just done.
    # A quick look ahead of the grade, which alone counts.
    class Progress
      # times: Hash step => ms at which it was reached
      attr_reader :times, :alarms, :last

      # @param data [Hash] as given by #to_h; empty at the start
      def initialize(data = {})
        @times = data.fetch(:times, {}).transform_keys(&:to_sym)
        @alarms = data.fetch(:alarms, [])
        @last = data[:last]
      end

      # @param recent [Bench::Replay] the last stretch of the attempt, its newest entry last
      # @param procedure [Procedures::Procedure]
      # @return [Progress]
      def after(recent, procedure)
        transcript = Transcript.new(recent, procedure)
        index = transcript.size - 1
        fresh = fresh_steps(transcript, procedure, index).to_h { |id| [id, transcript.action(index).at_ms] }
        Progress.new(times: times.merge(fresh), alarms: @alarms + alarm(transcript, index), last: transcript.action(index).to_h)
      end

      def reached = times.keys

      # @return [Integer] ms to go back to so that the step reached last is still to be done
      def before_last_step_ms = times.values.uniq.sort[-2] || 0

      # @return [Procedures::Step, nil] the first step that is not reached and whose time has come
      def next_step(procedure) = procedure.steps.find { |step| !step.optional? && step.only.empty? && !reached.include?(step.id) && (step.after - reached).empty? }

      def to_h = {times: times, alarms: alarms, last: last}

      def to_json(*) = JSON.generate(to_h)

      private

      def fresh_steps(transcript, procedure, index)
        procedure.steps.reject { |step| reached.include?(step.id) || (step.after - reached).any? }.select { |step|
          Conditions.new(transcript, step).hold?(step.matched, index)
        }.map(&:id)
      end

      def alarm(transcript, index)
        action = transcript.action(index)
        mistake = case action.kind
        when :turn then shutoff_alarm(transcript, index, action)
        when :connect then transcript.variant.station.findings.any?(&:stops?) ? :went_on : nil
        end
        mistake ? [[action.at_ms, mistake]] : []
      end

      def shutoff_alarm(transcript, index, action)
        valve = action.name(:valve)
        return unless transcript.variant.station.assembly.shutoff_valves.include?(valve)

        opening = transcript.turned(index, valve) == 1
        return (told?(transcript, index, "shutdown") ? nil : :not_notified) unless opening
        return :shutoff_opened_fast if action[:speed].to_s == "fast"

        :water_on_unannounced if valve == :shutoff_valve_2 && !told?(transcript, index, "water_on")
      end

      def told?(transcript, index, topic)
        people = transcript.variant.station.site.people.values.select { |person| person.topics.include?(topic) }
        people.all? { |person| transcript.state(index).told.include?([person.id, topic.to_sym]) }
      end
    end
  end
end
