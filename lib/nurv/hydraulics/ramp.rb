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

      # @param position [Float] opening 0..1, or turns
      # @return [Ramp] a control at rest
      def self.at(position) = new(position, position, 0.0, 0.0)

      # @param time_s [Float]
      # @return [Float] opening 0..1, or turns
      def position(time_s)
        return @to if time_s >= @end_s
        return @from if time_s <= @start_s

        @from + (@to - @from) * (time_s - @start_s) / (@end_s - @start_s)
      end

      # @param time_s [Float]
      # @return [Boolean] whether it is not yet there
      def moving?(time_s) = time_s < @end_s && @from != @to

      # @return [Boolean] it is not turned at all
      def still? = @from == @to

      # Fastest sensible step while it moves: eight to a ramp.
      def step_limit_s = (@end_s - @start_s) / 8.0

      # @return [Array(Float, Float, Float, Float)] from, to, start and end, as snapshots keep it
      def to_a = [@from, @to, @start_s, @end_s]
    end
  end
end
