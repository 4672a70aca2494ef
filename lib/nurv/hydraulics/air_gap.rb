# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Air over the water in a body whose vent is too narrow to let it in freely.
    #
    # The level of the water is a node of its own, and the body's pressure falls below it by as much as the air over it
    # is thinned. Water leaves the level as fast as air comes in to take its place, and rises as fast as air goes out:
    # an orifice between level and body. K = 300·area^1.8 times how far the poppet stands off, plus a fifth of that of
    # each open test cock, which gulps; what rises is never held up by less than K 2, since water that runs carries air
    # away.
    # Source: engineering estimate.
    class AirGap
      include Unturned

      NARROWING = 1.8
      GULPED = 0.2
      CARRIED_K = 2.0
      # At the top and at the bottom the flow fades out over so much head, psi.
      BRIM_PSI = 0.005

      attr_reader :id, :from, :to

      # @param level [Integer] node of the water's level
      # @param inlet [AirInlet] its body is the other node
      # @param cocks [Array<Passage>] open to air from the body
      # @param surface [Node::FreeSurface]
      def initialize(id, level, inlet, cocks:, surface:)
        @id = id
        @from = level
        @to = inlet.body
        @inlet = inlet
        @cocks = cocks
        @surface = surface
      end

      # @return [Boolean] it lies inside the body
      def to_air? = false

      # @param pressures [Array<Float>] psi per node
      # @return [Float] mL/s, positive while the level sinks
      def flow(pressures)
        drop = pressures[@from] - pressures[@to]
        conductance(drop) * room(drop, pressures[@from]) * Law.root(drop)
      end

      # See Passage#stamp.
      def stamp(pressures, flows, matrix, size)
        drop = pressures[@from] - pressures[@to]
        k = conductance(drop)
        room = room(drop, pressures[@from])
        flow = k * room * Law.root(drop)
        flows[@from] -= flow
        flows[@to] += flow
        return unless matrix

        Stamp.pair(matrix, size, @from, @to, k * room * Law.slope(drop) * Law.steepness(drop))
        return unless room > 0.0 && room < 1.0

        slope = k * Law.root(drop).abs / BRIM_PSI
        matrix[@from * size + @from] += slope
        matrix[@to * size + @from] -= slope
      end

      private

      def conductance(drop)
        k = @inlet.full_k * @inlet.area**NARROWING * @inlet.fraction
        @cocks.each { |cock| k += GULPED * cock.conductance }
        (drop < 0.0 && k < CARRIED_K) ? CARRIED_K : k
      end

      # Share of the flow that the level has room for: none above the top, none below the bottom.
      def room(drop, level)
        left = (drop < 0.0) ? @surface.top_psi - level : level - @surface.bottom_psi
        (left / BRIM_PSI).clamp(0.0, 1.0)
      end
    end
  end
end
