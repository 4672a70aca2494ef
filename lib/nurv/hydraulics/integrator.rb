# frozen_string_literal: true

module Nurv
  module Hydraulics
    # One step of a two-stage Rosenbrock method for M·dP/dt = q(P, t).
    #
    # Source: ROS2 (Verwer and others, 1999), γ = 1 − 1/√2, second order for any Jacobian, L-stable. One matrix,
    # one factorisation, two solves; the embedded first-order result gives the error.
    class Integrator
      GAMMA = 1.0 - 1.0 / Math.sqrt(2.0)
      TOLERANCE_PSI = 0.02
      RELATIVE_TOLERANCE = 2.0e-4
      BRIM_CARE = 0.02

      attr_reader :slope1, :slope2, :pressures

      # @param network [Network]
      # @param tightness [Float] multiplies the tolerance; below 1 is stricter (for refinement checks)
      def initialize(network, tightness: 1.0)
        @network = network
        @size = network.size
        @tightness = tightness
        @solver = LinearSolver.new(@size, joined(network))
        @cells = @solver.cells
        @matrix = Array.new(@size * @size, 0.0)
        @jacobian = Array.new(@size * @size, 0.0)
        @mass = Array.new(@size, 0.0)
        @hose_of = Array.new(@size)
        network.hoses.each_with_index { |hose, position| @hose_of[hose.node] = position }
        # A swinging main is followed with less care: the error shown is that of the first-order result.
        @tightness *= 3.0 if network.sources.any?(&:swings?)
        @rates = Array.new(@size, 0.0)
        @stage = Array.new(@size, 0.0)
      end

      # Tries one step. Results are in #pressures, #slope1 and #slope2 (dense output: Trajectory::Step).
      #
      # @param state [State]
      # @param dt [Float] seconds
      # @return [Float] error over tolerance; up to 1 is good
      def try(state, dt)
        network = @network
        size = @size
        start = state.pressures
        prepare_mass(state)
        @jacobian.fill(0.0)
        @rates.fill(0.0)
        k1 = Array.new(size, 0.0)
        network.at(state.time_s, state)
        stamp_all(start, k1, @jacobian)
        network.sources.each { |source| source.stamp_rate(start, @rates) }
        build_matrix(GAMMA * dt)
        @solver.factor!(@matrix)
        node = 0
        while node < size
          k1[node] += GAMMA * dt * @rates[node]
          node += 1
        end
        @solver.solve!(@matrix, k1)
        second_stage(state, start, k1, dt)
      end

      private

      # The relief valve feels the inlet, though no water passes that way.
      def joined(network)
        pairs = network.edges.reject { |edge| edge.to_air? || edge.from == Passage::AIR }.map { |edge| [edge.from, edge.to] }
        pairs += network.cross_capacitances.map { |from, to, _| [from, to] }
        relief = network.relief_valve
        relief ? pairs << [relief.inlet, relief.zone] : pairs
      end

      def second_stage(state, start, k1, dt)
        size = @size
        node = 0
        while node < size
          @stage[node] = start[node] + dt * k1[node]
          node += 1
        end
        k2 = Array.new(size, 0.0)
        @network.at(state.time_s + dt, state)
        stamp_all(@stage, k2, nil)
        node = 0
        while node < size
          k2[node] *= mass_ratio(node, state) if @hose_of[node]
          k2[node] -= 2.0 * @mass[node] * k1[node] + GAMMA * dt * @rates[node]
          node += 1
        end
        @network.cross_capacitances.each do |from, to, capacitance|
          change = 2.0 * capacitance * (k1[from] - k1[to])
          k2[from] -= change
          k2[to] += change
        end
        @solver.solve!(@matrix, k2)
        finish(start, k1, k2, dt)
      end

      def finish(start, k1, k2, dt)
        worst = 0.0
        result = Array.new(@size)
        node = 0
        while node < @size
          result[node] = start[node] + dt * (1.5 * k1[node] + 0.5 * k2[node])
          tolerance = (TOLERANCE_PSI + RELATIVE_TOLERANCE * start[node].abs) * @network.nodes[node].tolerance_scale * @network.care(node, start[node])
          miss = (0.5 * dt * (k1[node] + k2[node])).abs / tolerance
          worst = miss if miss > worst || miss.nan?
          node += 1
        end
        @pressures = result
        @slope1 = k1
        @slope2 = k2
        worst / @tightness
      end

      def stamp_all(pressures, flows, jacobian)
        edges = @network.edges
        count = edges.size
        index = 0
        while index < count
          edges[index].stamp(pressures, flows, jacobian, @size)
          index += 1
        end
      end

      def prepare_mass(state)
        node = 0
        while node < @size
          mass = @network.capacitance(node, state)
          hose = @hose_of[node]
          mass += Node.air_capacitance(state.hose_air[hose], state.pressures[node]) if hose
          @mass[node] = mass
          node += 1
        end
      end

      # Air stiffens as it is squeezed: the second stage sees the capacitance of its own pressure.
      def mass_ratio(node, state)
        air = state.hose_air[@hose_of[node]]
        return 1.0 if air < 1.0e-6

        now = @network.capacitance(node, state) + Node.air_capacitance(air, @stage[node])
        @mass[node] / now
      end

      def build_matrix(weight)
        index = 0
        while index < @cells.size
          cell = @cells[index]
          @matrix[cell] = -weight * @jacobian[cell]
          index += 1
        end
        node = 0
        while node < @size
          @matrix[node * @size + node] += @mass[node]
          node += 1
        end
        @network.cross_capacitances.each do |from, to, capacitance|
          @matrix[from * @size + from] += capacitance
          @matrix[to * @size + to] += capacitance
          @matrix[from * @size + to] -= capacitance
          @matrix[to * @size + from] -= capacitance
        end
      end
    end
  end
end
