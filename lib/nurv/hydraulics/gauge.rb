# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The differential gauge: what it is driven by, and how its needle follows.
    class Gauge
      BOTTOM_PSID = -0.5
      TOP_PSID = 15.4
      LAG_S = 0.15
      LAG_PER_AIR_S = 0.5

      attr_reader :high, :low, :zero_error_psid

      # @param high [Integer] node of the high chamber
      # @param low [Integer] node of the low chamber
      # @param loops_in [Array(Float, Float)] loop heights of the high and low hose
      def initialize(high:, low:, hoses:, loops_in:, zero_error_psid: 0.0)
        @high = high
        @low = low
        @hoses = hoses
        @loops_in = loops_in
        @zero_error_psid = zero_error_psid
        freeze
      end

      # @return [Float] psid that the mechanism feels: heads cancel when both hoses are full of water
      def drive(pressures, hose_air) = felt(pressures[@high] - pressures[@low], hose_air)

      # @param difference_psi [Float] pressure of the high node over the low one
      # @return [Float] psid that the mechanism feels
      def felt(difference_psi, hose_air)
        difference_psi + @zero_error_psid +
          Units.head_psi(hose_air[@hoses[0]] * @loops_in[0] - hose_air[@hoses[1]] * @loops_in[1])
      end

      # A hose that hangs free (no loop) slows nothing.
      def lag_s(hose_air)
        high = @loops_in[0].zero? ? 0.0 : hose_air[@hoses[0]]
        low = @loops_in[1].zero? ? 0.0 : hose_air[@hoses[1]]
        LAG_S + LAG_PER_AIR_S * [high, low].max
      end

      # First-order lag behind a drive that runs in a straight line; exact for any dt.
      #
      # @return [Float] needle at the end of dt, held by its stops
      def follow(needle, from, to, dt, lag)
        return needle if dt <= 0.0

        rate = (to - from) / dt
        behind = (needle - from + rate * lag) * Math.exp(-dt / lag)
        (to - rate * lag + behind).clamp(BOTTOM_PSID, TOP_PSID)
      end
    end
  end
end
