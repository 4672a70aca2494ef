# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Nodes joined by edges: an assembly, a kit and the hoses between them, for one way of connecting them.
    class Network
      attr_reader :nodes,
        :edges,
        :index,
        :hoses,
        :gauge,
        :cross_capacitances,
        :relief_valve,
        :air_inlet,
        :sources,
        :size,
        :surfaces

      # @param nodes [Array<Node>]
      # @param edges [Array] anything with flow, stamp, at, moving?
      # @param cross_capacitances [Array<Array(Integer, Integer, Float)>] discs between two nodes
      # @param hoses [Array<Hose>]
      # @param gauge [Gauge]
      def initialize(nodes:, edges:, cross_capacitances:, hoses:, gauge:)
        @nodes = nodes
        @edges = edges
        @cross_capacitances = cross_capacitances
        @hoses = hoses
        @gauge = gauge
        @size = nodes.size
        @index = nodes.each_with_index.to_h { |node, position| [node.id, position] }
        @by_id = edges.to_h { |edge| [edge.id, edge] }
        @relief_valve = edges.find { |edge| edge.is_a?(ReliefValve) }
        @air_inlet = edges.find { |edge| edge.is_a?(AirInlet) }
        @sources = edges.grep(Source)
        @vents = nodes.each_index.map { |node| edges.select { |edge| edge.to_air? && edge.from == node } }
        @hose_edges = hoses.map { |hose| edges_of(hose) }
        @moving_until = edges.flat_map(&:ramps).select { |ramp| ramp.from != ramp.to }
        @variable =
          edges.select { |edge| edge.ramps.any? { |ramp| ramp.from != ramp.to } } | @sources.select(&:swings?)
        @swings = @sources.any?(&:swings?)
        @surfaces = nodes.each_index.select { |node| nodes[node].free_surface }
      end

      # @param id [Symbol]
      # @return [Passage, CheckValve, ReliefValve, AirInlet, Source, nil]
      def edge(id) = @by_id[id]

      # Sets every control to its place at this time, and the valves with a memory to the state's.
      def at(time_s, state)
        index = 0
        while index < @variable.size
          @variable[index].at(time_s)
          index += 1
        end
        @relief_valve.position = state.relief_position if @relief_valve
        @air_inlet.fraction = state.air_inlet_fraction if @air_inlet
      end

      # Adds what the flows gain per second, at these pressures, from controls under way and a swinging main.
      #
      # @return [Boolean] whether anything is under way
      def stamp_rates(pressures, rates, time_s)
        @variable.count { |edge| edge.stamp_rate(pressures, rates, time_s) }.positive?
      end

      # @return [Float] the longest step that still follows what is being turned or is swinging
      def step_limit(time_s, state, quiet)
        limit = quiet ? 30.0 : 2.0
        @moving_until.each do |ramp|
          next if time_s >= ramp.end_s

          limit = [limit, ramp.step_limit_s, ramp.end_s - time_s].min
        end
        limit = 0.2 if @swings && limit > 0.2
        limit = 0.05 if limit > 0.05 && @air_inlet && state.air_inlet_fraction != state.air_inlet_target
        limit
      end

      # Volume a node takes up per psi at this state, mL/psi.
      def capacitance(node, state)
        item = @nodes[node]
        value = item.capacitance
        value += item.free_surface.capacitance if item.free_surface && state.air_present[node]
        value
      end

      # @return [Boolean] air can get into this node
      def vented?(node, state)
        @vents[node].any? do |edge|
          case edge
          when ReliefValve
            state.relief_position > 0.0
          when AirInlet
            state.air_inlet_fraction > 0.0
          else
            edge.conductance > 0.0
          end
        end
      end

      # Flow that enters a hose at one end and leaves at the other, mL/s: what sweeps air out.
      def through_flow(hose_index, pressures)
        far, near = @hose_edges[hose_index]
        node = @hoses[hose_index].node
        inward = signed_flow(far, node, pressures)
        outward = -signed_flow(near, node, pressures)
        return 0.0 if inward * outward <= 0.0

        [inward.abs, outward.abs].min
      end

      private

      def edges_of(hose)
        around = edges.select { |edge| edge.from == hose.node || edge.to == hose.node }
        around.partition { |edge| edge.id == hose.far_passage }
      end

      # Into the node, positive.
      def signed_flow(edges, node, pressures)
        edges.sum(0.0) { |edge| (edge.to == node) ? edge.flow(pressures) : -edge.flow(pressures) }
      end
    end
  end
end
