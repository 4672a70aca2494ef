# frozen_string_literal: true

module Nurv
  module Hydraulics
    # A control on its way from one position to another.
    class Ramp
      attr_reader :from, :to, :start_s, :end_s

      # @param from [Float] position (opening 0..1, or turns)
      # @param to [Float]
      # @param start_s [Float] simulated time
      # @param end_s [Float] >= start_s
      def initialize(from, to, start_s, end_s)
        @from = from
        @to = to
        @start_s = start_s
        @end_s = end_s
        freeze
      end

      def self.at(position) = new(position, position, 0.0, 0.0)

      def position(time_s)
        return @to if time_s >= @end_s
        return @from if time_s <= @start_s

        @from + (@to - @from) * (time_s - @start_s) / (@end_s - @start_s)
      end

      def moving?(time_s) = time_s < @end_s && @from != @to

      # Fastest sensible step while it moves: eight to a ramp.
      def step_limit_s = (@end_s - @start_s) / 8.0

      def to_a = [@from, @to, @start_s, @end_s]
    end
  end
end
