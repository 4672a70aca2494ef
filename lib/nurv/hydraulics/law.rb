# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The square-root law of an orifice, made smooth about zero, and how valves scale it.
    #
    # q = K·g(Δp), g(d) = d/√(|d| + ε). Source: orifice equation; ε keeps the slope finite at rest, where the
    # flow is laminar in life. K in mL/s per √psi.
    module Law
      EPSILON_PSI = 0.01

      module_function

      # The size of a drop is written out where it is asked a million times for a test: Float#abs takes twice as long.
      #
      # @param drop [Float] psi
      # @return [Float] √psi, with the sign of the drop
      def root(drop) = drop / Math.sqrt(((drop < 0.0) ? 0.0 - drop : drop) + EPSILON_PSI)

      # Secant slope g(d)/d. The true derivative makes an implicit step flip to and fro about zero.
      def slope(drop) = 1.0 / Math.sqrt(((drop < 0.0) ? 0.0 - drop : drop) + EPSILON_PSI)

      # How much of the secant slope goes into the Jacobian: all of it about rest, and beyond the share that makes it
      # the true derivative. All secant would blunt every step; all true derivative makes steps about rest hunt.
      def steepness(drop)
        far = (drop < 0.0) ? 0.0 - drop : drop
        (far > EPSILON_PSI) ? (0.5 * far + EPSILON_PSI) / (far + EPSILON_PSI) : 1.0
      end

      # @param opening [Float] 0 shut … 1 open
      # @param leak [Float] K that passes when it is shut
      def shutoff_valve(opening, leak) = 2000.0 * opening**1.6 + leak

      # @param opening [Float] 0 shut … 1 open
      def test_cock(opening) = 60.0 * opening * opening

      # @param turns [Float] from shut; wide open from 2.5 turns
      def needle_valve(turns) = (turns >= 2.5) ? 16.0 : 16.0 * (turns / 2.5)**1.3

      # Conductances one after the other: 1/K² = Σ 1/K².
      def series(first, second)
        return 0.0 if first <= 0.0 || second <= 0.0

        first * second / Math.sqrt(first * first + second * second)
      end
    end
  end
end
