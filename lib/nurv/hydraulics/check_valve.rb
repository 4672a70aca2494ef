# frozen_string_literal: true

module Nurv
  module Hydraulics
    # A spring-loaded check: opens when the drop across it passes its spring, and leaks when something holds it off
    # its seat.
    #
    # q = 900·e²/(1 + e²)·g(Δp) + leak·g(Δp), e = max(0, (Δp − spring)/softness).
    # Source: engineering estimate, tuned so that the closed valve holds its spring's differential.
    class CheckValve
      include Unturned

      FULL_K = 900.0
      AIR = Passage::AIR

      attr_reader :id, :from, :to, :spring_psid

      # @param spring_psid [Float] differential it holds when closed tight
      # @param softness_psid [Float] how far past the spring it opens fully
      # @param leak_k [Float] 0 when tight
      # @param dry_psi [Float, nil] pressure of `to` at which that chamber is empty: then only air goes back
      def initialize(id, from, to, spring_psid:, softness_psid:, leak_k: 0.0, scale: 1.0, dry_psi: nil)
        @id = id
        @from = from
        @to = to
        @spring_psid = spring_psid
        @softness_psid = softness_psid
        @leak_k = leak_k
        @full_k = FULL_K * scale
        @dry_psi = dry_psi
      end

      # @return [Boolean]
      def to_air? = false

      # @param pressures [Array<Float>] psi per node
      # @return [Float] mL/s, positive forwards; negative only where it leaks
      def flow(pressures)
        drop = pressures[@from] - pressures[@to]
        conductance(drop, pressures[@to]) * Law.root(drop)
      end

      # @return [Float] 0 shut … 1 open, for the cut-away view
      def opening(pressures)
        excess = lift(pressures[@from] - pressures[@to])
        excess * excess / (1.0 + excess * excess)
      end

      # See Passage#stamp. The slope is that of the formula above, its opening included.
      def stamp(pressures, flows, matrix, size)
        drop = pressures[@from] - pressures[@to]
        k = conductance(drop, pressures[@to])
        return if k <= 0.0

        root = Law.root(drop)
        flow = k * root
        flows[@from] -= flow
        flows[@to] += flow
        return unless matrix

        excess = lift(drop)
        slope = k * Law.slope(drop) * Law.steepness(drop)
        if excess > 0.0
          square = 1.0 + excess * excess
          slope += @full_k * 2.0 * excess / (square * square) / @softness_psid * root
        end
        Stamp.pair(matrix, size, @from, @to, slope)
      end

      private

      def lift(drop) = (drop > @spring_psid) ? (drop - @spring_psid) / @softness_psid : 0.0

      def conductance(drop, far_pressure)
        if drop > @spring_psid
          excess = (drop - @spring_psid) / @softness_psid
          @full_k * excess * excess / (1.0 + excess * excess) + @leak_k
        elsif drop < 0.0 && @dry_psi && far_pressure <= @dry_psi
          0.0
        else
          @leak_k
        end
      end
    end
  end
end
