# frozen_string_literal: true

module Nurv
  module Hydraulics
    # A way for water at the kit: through one of its valves, or out of the kit end of a hose.
    #
    # What stands there is not the pressure of the hose's node, which is that at its test cock: air in the hose lifts it
    # by the column of water that is missing. Behind a gap there is no water at all, and air at rest: water can come in
    # from the other side, and nothing goes out.
    class KitPassage < Passage
      # @param hoses [Array<Integer, nil>] the hose whose kit end is at `from` and at `to`
      def initialize(id, from, to, valves, hoses:, air_psi: 0.0, one_way: false)
        @from_hose, @to_hose = hoses
        @from_lift = 0.0
        @to_lift = 0.0
        @from_level = nil
        @to_level = nil
        super(id, from, to, valves, air_psi: air_psi, one_way: one_way)
      end

      # @return [Boolean] whether it hangs on a hose at all
      def hose? = !(@from_hose.nil? && @to_hose.nil?)

      # Feels how the hoses at its ends are filled.
      #
      # @param hoses [Array<Hose>]
      # @param state [State]
      def feel(hoses, state)
        @from_lift, @from_level = lift(hoses, @from_hose, state)
        @to_lift, @to_level = lift(hoses, @to_hose, state)
      end

      # See Passage#stamp.
      def stamp(pressures, flows, matrix, size)
        return if @conductance <= 0.0

        drop = drop(pressures)
        if (drop <= 0.0) ? (@one_way || @to_level) : @from_level
          lean(matrix, size, @conductance * Law.slope(0.0)) if matrix && drop.abs < BRIM_PSI
          return
        end

        slope = @conductance / Math.sqrt(((drop < 0.0) ? 0.0 - drop : drop) + Law::EPSILON_PSI)
        flow = slope * drop
        flows[@from] -= flow
        flows[@to] += flow if @to != AIR
        lean(matrix, size, slope * Law.steepness(drop)) if matrix
      end

      private

      def lift(hoses, hose, state)
        return 0.0, nil unless hose
        return 0.0, hoses[hose].top_psi if state.hose_gap[hose] > 0.0

        [state.hose_air[hose] * hoses[hose].column_psi, nil]
      end

      def drop(pressures)
        from = @from_level || pressures[@from] + @from_lift
        to = (@to == AIR) ? @air_psi : (@to_level || pressures[@to] + @to_lift)
        from - to
      end

      # Air that goes this way is no water.
      def shut_to?(drop) = (drop <= 0.0) ? (@one_way || !@to_level.nil?) : !@from_level.nil?

      # Slopes of the ends that have a pressure of their own.
      def lean(matrix, size, slope)
        unless @from_level
          matrix[@from * size + @from] += slope
          matrix[@to * size + @from] -= slope if @to != AIR
        end
        return if @to == AIR || @to_level

        matrix[@to * size + @to] += slope
        matrix[@from * size + @to] -= slope
      end
    end
  end
end
