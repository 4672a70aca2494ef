# frozen_string_literal: true

module Nurv
  module Bench
    # Takes water over from one way of connecting to another: hoses that hang otherwise, a kit held higher, fittings
    # that come and go, a body whose level stands apart. What a volume holds it still holds; what comes off is gone.
    class Relaying
      # Far enough for any hose, psi.
      REACH_PSI = 200.0

      # @param before [Hydraulics::Network]
      # @param after [Hydraulics::Network]
      # @param lifted_in [Float] how much higher the kit is held, inches
      # @param fitted_in [Float] height of the cock that a new fitting is on: it comes on empty
      def initialize(before, after, lifted_in:, fitted_in:)
        @before = before
        @after = after
        @lifted_psi = Units.head_psi(lifted_in)
        @fitted_psi = Units.head_psi(fitted_in)
      end

      # @param water [Hydraulics::State] of the network before
      # @return [Hydraulics::State] of the one after
      def water(water)
        air = water.hose_air.each_index.map { |hose| water.hose_air[hose] + water.hose_gap[hose] }
        pressures = @after.nodes.map { |node| pressure(node, water) }
        @after.hoses.each_index { |hose| pressures[@after.hoses[hose].node] = hung(hose, air[hose], water) }
        water.with(
          pressures: pressures.freeze,
          air_present: @after.nodes.map { |node| air_present?(node, water) }.freeze,
          hose_air: air.freeze,
          hose_gap: Array.new(air.size, 0.0).freeze
        )
      end

      private

      def pressure(node, water)
        position = @before.index[node.id]
        return new_pressure(node, water) unless position
        return level(water) if joins_level?(node, water)

        water.pressures[position] + ((@kit ||= kit_nodes).include?(node.id) ? @lifted_psi : 0.0)
      end

      # Chambers of the kit itself go up and down with it; a hose is looked at by #hung.
      def kit_nodes
        ends = @before.edges.grep(Hydraulics::KitPassage).flat_map { |edge| [edge.from, edge.to] }
        (ends - [Hydraulics::Passage::AIR]).map { |position| @before.nodes[position].id }
      end

      def new_pressure(node, water)
        return @fitted_psi unless node.id == :level

        body = @before.air_inlet.body
        top = @before.nodes[body].free_surface.top_psi
        water.air_present[body] ? [water.pressures[body], top].min : top
      end

      def level(water) = water.pressures[@before.index.fetch(:level)]

      # A body whose level stood apart, below its top, and is one with it from here on.
      def joins_level?(node, water)
        return false unless @before.index.key?(:level) && !@after.index.key?(:level)

        node.id == @before.nodes[@before.air_inlet.body].id &&
          level(water) < node.free_surface.top_psi - Hydraulics::Turning::BRIM_PSI
      end

      # A hose keeps its water. Where it hangs otherwise, its air stands otherwise over it.
      def hung(hose, air, water)
        item = @before.hoses[hose]
        held = water.pressures[item.node]
        return held + @lifted_psi unless item.column? || @after.hoses[hose].column?

        offset = @before.air_offset_psi(hose, air)
        late = water.hose_late_psi[hose]
        wanted = holds(item, held, held + offset, air, late)
        now = @after.air_offset_psi(hose, air)
        low = held - REACH_PSI
        high = held + REACH_PSI
        60.times do
          middle = (low + high) / 2.0
          (holds(item, middle, middle + now, air, late) > wanted) ? high = middle : low = middle
        end
        high
      end

      def holds(item, pressure, air_pressure, air, late) =
        @before.nodes[item.node].capacitance * pressure +
          Hydraulics::Hose.water_ml(air, 0.0, air_pressure, late)

      def air_present?(node, water)
        position = @before.index[node.id]
        return false unless position && node.free_surface

        joins_level?(node, water) || water.air_present[position]
      end
    end
  end
end
