# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Nodes joined by edges: an assembly, a kit and the hoses between them, for one way of connecting them.
    class Network
      attr_reader :nodes,
        :edges,
        :ways,
        :outlets,
        :index,
        :hoses,
        :gauge,
        :cross_capacitances,
        :relief_valve,
        :air_inlet,
        :sources,
        :size,
        :surfaces,
        :tracer,
        :turned

      # @param nodes [Array<Node>]
      # @param edges [Array] anything with flow, stamp, at, moving?
      # @param cross_capacitances [Array<Array(Integer, Integer, Float)>] discs between two nodes
      # @param hoses [Array<Hose>]
      # @param gauge [Gauge]
      # @param tracer [Tracer, nil]
      def initialize(nodes:, edges:, cross_capacitances:, hoses:, gauge:, tracer: nil)
        @nodes = nodes
        @edges = edges
        @cross_capacitances = cross_capacitances
        @hoses = hoses
        @gauge = gauge
        @tracer = tracer
        @size = nodes.size
        @index = nodes.each_with_index.to_h { |node, position| [node.id, position] }
        @by_id = edges.to_h { |edge| [edge.id, edge] }
        # Those that anything can ever pass while nobody acts: the others need not be asked a million times.
        @ways = edges.reject(&:shut_for_good?)
        @relief_valve = edges.find { |edge| edge.is_a?(ReliefValve) }
        @air_inlet = edges.find { |edge| edge.is_a?(AirInlet) }
        @sources = edges.grep(Source)
        @outlets = @ways.select(&:to_air?)
        @vents = @outlets.group_by(&:from)
        @hose_at = nodes.each_index.map { |node| hoses.index { |hose| hose.node == node } }
        @hose_edges = hoses.map { |hose| edges_of(hose) }
        @kit = @ways.grep(KitPassage)
        @hung = @kit.select(&:hose?)
        @turned = edges.reject { |edge| edge.turning.empty? }
        @moving_until = @turned.flat_map(&:turning)
        @variable = @turned | @sources.select(&:swings?)
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
        feel(state)
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
        value += Cavity::CAPACITANCE if Cavity.forms?(state.pressures[node])
        value
      end

      # @return [Boolean] air can get into this node
      def vented?(node, state)
        @vents[node]&.any? do |edge|
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

      # What stands at the kit end of a hose: its node's pressure, lifted by the column of water that air took the place
      # of; behind a gap, air at rest.
      #
      # @param hose [Integer]
      # @return [Float] psi
      def kit_end_psi(hose, pressures, state)
        item = @hoses[hose]
        return item.top_psi if state.hose_gap[hose] > 0.0

        pressures[item.node] + state.hose_air[hose] * item.column_psi
      end

      # @param hose [Integer]
      # @return [Float] psi by which the air in a hose stands over the pressure of its node, kit height left aside
      def air_offset_psi(hose, air) = air * @hoses[hose].column_psi - @hoses[hose].top_psi

      # @param hose [Integer]
      # @return [Boolean] it is drained to its far end, and its water stands no higher than that
      def emptied?(hose, state)
        item = @hoses[hose]
        state.hose_gap[hose] > 0.0 && state.pressures[item.node] < item.top_psi - item.column_psi
      end

      # @param hose [Integer]
      # @return [Boolean] a gap stands in it whose edge is the water's level
      def gap?(hose, state) = state.hose_gap[hose] > 0.0 && !emptied?(hose, state)

      # Whether air can get at the kit end of a hose: through an opening there, or through open valves of the kit.
      #
      # @param hose [Integer]
      # @param flooded [Boolean] also where water stands in the way just now
      # @return [Boolean]
      def open_to_air?(hose, pressures, state, flooded: false)
        top = flooded ? Float::INFINITY : @hoses[hose].top_psi + Turning::BRIM_PSI
        seen = [@hoses[hose].node]
        ahead = seen.dup
        until ahead.empty?
          node = ahead.shift
          @kit.each do |edge|
            next unless edge.conductance > 0.0 && [edge.from, edge.to].include?(node)
            return true if edge.to == Passage::AIR

            other = (edge.from == node) ? edge.to : edge.from
            next if seen.include?(other) || felt(other, pressures, state) > top

            seen << other
            ahead << other
          end
        end
        false
      end

      # Air that water sweeps out of each hose at its kit end comes to other hoses there, or to air; at its far end it
      # goes into the assembly, rises, and is gone.
      #
      # @param swept [Array<Float>] share of a hose that each lost
      # @return [Array<Float>] share of a hose that each gained
      def passed_on(swept, pressures)
        gained = Array.new(@hoses.size, 0.0)
        swept.each_index do |hose|
          next unless swept[hose] > 0.0

          node = @hoses[hose].node
          share(node, swept[hose], pressures, gained, [node])
        end
        gained
      end

      # @return [Float] mL/s of water through an edge; air that leaves a hose with it is left out
      def water_flow(edge, pressures, state)
        flow = edge.flow(pressures)
        return flow unless flow > 0.0 && edge.to_air? && edge.is_a?(KitPassage)

        flow * (1.0 - air_share(edge.from, pressures, state))
      end

      # @param hose [Integer]
      # @return [Boolean] both its ends stand open to something
      def passes?(hose) = @hose_edges[hose].all? { |edges| open?(edges) }

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

      def open?(edges)
        index = 0
        while index < edges.size
          return true if edges[index].conductance > 0.0

          index += 1
        end
        false
      end

      # Only when the hoses hold something else than before.
      def feel(state)
        return if @felt_air.equal?(state.hose_air) && @felt_gap.equal?(state.hose_gap)

        @felt_air = state.hose_air
        @felt_gap = state.hose_gap
        @hung.each { |edge| edge.feel(@hoses, state) }
      end

      # Share of what leaves a chamber of the kit that is air: a hose's own, or mixed from those that feed it.
      def air_share(node, pressures, state)
        hose = @hose_at[node]
        return hose_air_share(hose, pressures, state) * own_share(hose, pressures) if hose

        air = 0.0
        all = 0.0
        @kit.each do |edge|
          other = (edge.to == node) ? edge.from : edge.to
          next if other == Passage::AIR || (edge.from != node && edge.to != node)

          coming = (edge.to == node) ? edge.flow(pressures) : -edge.flow(pressures)
          next unless coming > 0.0

          source = @hose_at[other]
          air += coming * hose_air_share(source, pressures, state) if source
          all += coming
        end
        (all > 0.0) ? air / all : 0.0
      end

      # Of what leaves a hose's chamber, the share that the hose gives: what comes in from the kit only passes by.
      def own_share(hose, pressures)
        node = @hoses[hose].node
        flows = @hose_edges[hose].last.map { |edge| signed_flow([edge], node, pressures) }
        leaving = flows.sum { |flow| (flow < 0.0) ? -flow : 0.0 }
        return 0.0 unless leaving > 0.0

        passing = flows.sum { |flow| (flow > 0.0) ? flow : 0.0 }
        (1.0 - passing / leaving).clamp(0.0, 1.0)
      end

      def hose_air_share(hose, pressures, state)
        air = state.hose_air[hose]
        return 0.0 if air < Filling::NO_AIR || state.hose_gap[hose] > 0.0

        Hose.air_share(air, pressures[@hoses[hose].node] + air_offset_psi(hose, air))
      end

      def felt(node, pressures, state)
        hose = @hose_at[node]
        hose ? kit_end_psi(hose, pressures, state) : pressures[node]
      end

      # Follows water through the kit, and shares what it carries out as it divides.
      def share(node, amount, pressures, gained, seen)
        leaving = @kit.filter_map do |edge|
          flow = edge.flow(pressures)
          if edge.from == node && flow > 0.0
            [edge.to, flow]
          elsif edge.to == node && flow < 0.0
            [edge.from, -flow]
          end
        end
        total = leaving.sum { |_, flow| flow }
        leaving.each do |to, flow|
          next if to == Passage::AIR || seen.include?(to)

          part = amount * flow / total
          hose = @hose_at[to]
          hose ? gained[hose] += part : share(to, part, pressures, gained, seen + [to])
        end
      end

      def edges_of(hose)
        around = ways.select { |edge| edge.from == hose.node || edge.to == hose.node }
        around.partition { |edge| edge.id == hose.far_passage }
      end

      # Into the node, positive.
      def signed_flow(edges, node, pressures)
        edges.sum(0.0) { |edge| (edge.to == node) ? edge.flow(pressures) : -edge.flow(pressures) }
      end
    end
  end
end
