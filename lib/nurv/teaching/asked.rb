# frozen_string_literal: true

module Nurv
  module Teaching
    # What a class is asked while it looks at a bench, and what came of it: read off the water, like all else.
    class Asked
      # A needle that moved less than this stood, psid. Source: half a mark of its face.
      MOVED_PSID = 0.1
      # Nothing is wrong with any part.
      SOUND = :sound

      KINDS = %i[needle relief part].freeze

      # @param assembly [Equipment::Assembly]
      # @return [Array<Symbol>] of KINDS, those that it can be asked about
      def self.kinds(assembly) = KINDS.reject { |kind| kind == :relief && !relief?(assembly) }

      # @param kind [Symbol] of KINDS
      # @param assembly [Equipment::Assembly]
      # @return [Array<Symbol>] what may be answered
      def self.choices(kind, assembly)
        {
          needle: %i[rises stands falls],
          relief: %i[opens stays_shut],
          part: [*assembly.components, *assembly.shutoff_valves, SOUND]
        }.fetch(kind)
      end

      def self.relief?(assembly) = assembly.components.include?(:relief_valve)
      private_class_method :relief?

      # @param replay [Bench::Replay] of all that was done at the bench
      # @param from_s [Float] simulated seconds at which it was asked
      # @param to_s [Float] and at which the answer was shown
      def initialize(replay, from_s, to_s)
        @replay = replay
        @from_s = from_s
        @to_s = to_s
      end

      # @param kind [Symbol] of KINDS
      # @return [Array<Symbol>] of its choices, those that came true; more than one where several parts are at fault
      def truths(kind) = {needle: -> { [needle] }, relief: -> { [relief] }, part: -> { parts }}.fetch(kind).call

      private

      def needle
        moved = @replay.needle_at(@to_s) - @replay.needle_at(@from_s)
        return :stands if moved.abs < MOVED_PSID

        moved.positive? ? :rises : :falls
      end

      def relief = (spans.any? { |span, from, to| ran?(span, from, to) }) ? :opens : :stays_shut

      # Stretches of the bench between the two moments.
      def spans
        all = @replay.spans
        all.each_with_index.filter_map do |span, index|
          from = [span.from_s, @from_s].max
          to = [all[index + 1]&.from_s || @to_s, @to_s].min
          [span, from, to] if to > from
        end
      end

      def ran?(span, from, to)
        span.trajectory.frame_times(from, to).any? do |time|
          span.trajectory.flows_at(time, %i[relief_valve])[:relief_valve] >= Bench::Flow::LEAST[:drip]
        end
      end

      def parts
        variant = @replay.variant.after(@replay.last.state.changes)
        parts = variant.station.faults.map { |item| item.fault.component }
        assembly = variant.station.assembly
        found = parts & self.class.choices(:part, assembly)
        found.empty? ? [SOUND] : found
      end
    end
  end
end
