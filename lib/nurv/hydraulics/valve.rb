# frozen_string_literal: true

module Nurv
  module Hydraulics
    # What limits the flow in a passage: a control under a ramp, or a fixed orifice.
    class Valve
      attr_reader :ramp

      # @param law [Symbol] :shutoff_valve, :test_cock, :needle_valve or :orifice
      # @param ramp [Ramp] its position over time; for :orifice the position multiplies K
      # @param k [Float] K of an orifice, or K that leaks through a shut shutoff valve
      # @param scale [Float] size of the assembly against a one-inch one
      def initialize(law, ramp, k: 0.0, scale: 1.0)
        @law = law
        @ramp = ramp
        @k = k
        @scale = scale
      end

      # @param k [Float] mL/s per √psi
      # @param opening [Float] multiplies it
      # @return [Valve] that nobody turns
      def self.orifice(k, opening = 1.0) = new(:orifice, Ramp.at(opening), k: k)

      # @return [Boolean] nothing passes where it comes from, nor where it is bound
      def shut_for_good? = at(@ramp.from) <= 0.0 && at(@ramp.to) <= 0.0

      # @return [Float] K in mL/s per √psi
      def conductance(time_s) = at(@ramp.position(time_s))

      private

      def at(position)
        case @law
        when :shutoff_valve then Law.shutoff_valve(position, 0.0) * @scale + @k
        when :test_cock then Law.test_cock(position) * @scale
        when :needle_valve then Law.needle_valve(position)
        else @k * position
        end
      end
    end
  end
end
