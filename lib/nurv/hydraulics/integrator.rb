# frozen_string_literal: true

module Nurv
  module Hydraulics
    # One step of M·dP/dt = q(P, t) by the four stages of Scheme: one matrix, one factorisation, four solves.
    #
    # The tolerances are what conserving water to 0.1 mL over a whole test asks for; see docs/simulation.md.
    class Integrator
      TOLERANCE_PSI = 0.0004
      RELATIVE_TOLERANCE = 4.0e-6
      # Of error in what any one volume holds.
      TOLERANCE_ML = 0.001
      # A swinging main is followed with less care: it never settles, and a needle that swings is not read to a
      # hundredth.
      SWING_CARELESS = 10.0

      # @return [Array<Array<Float>>] per power of θ from the first, psi per node: pressures inside the step are start
      #   + Σ bend[p]·θ^(p+1)
      attr_reader :bend
      # @return [Array<Float>] psi per node at the end of the step
      attr_reader :pressures

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
        @tightness *= SWING_CARELESS if network.sources.any?(&:swings?)
        @rates = Array.new(@size, 0.0)
        @look = Array.new(@size, 0.0)
        @first, @second, @third, @fourth = Array.new(Scheme::STAGES) { Array.new(@size, 0.0) }
        @scales = network.nodes.map(&:tolerance_scale)
        # Nodes with air in them: what does not stiffen, mL of air that does, and its pressure over the node's.
        @airy = []
        @firm = Array.new(@size, 0.0)
        @air_ml = Array.new(@size, 0.0)
        @air_offset = Array.new(@size, 0.0)
        # Nodes whose air still comes back from before, and mL/s of water that it takes up as the step begins.
        @coming = []
        @late = Array.new(@size, 0.0)
        @hurried = false
      end

      # Tries one step. Results are in #pressures and #bend.
      #
      # @param state [State]
      # @param dt [Float] seconds
      # @return [Float] error over tolerance; up to 1 is good
      def try(state, dt)
        network = @network
        start = state.pressures
        prepare_mass(state, dt)
        @jacobian.fill(0.0)
        @rates.fill(0.0)
        network.at(state.time_s, state)
        first = @first.fill(0.0)
        stamp_all(start, first, @jacobian)
        @hurried = network.stamp_rates(start, @rates, state.time_s)
        come_back(first, 1.0, @rates) if @coming.any?
        build_matrix(Scheme::GAMMA * dt)
        @solver.factor!(@matrix)
        lean_on_rates(first, Scheme::RATE[0] * dt)
        @solver.solve!(@matrix, first)
        stage(1, @second, state, dt)
        stage(2, @third, state, dt)
        stage(3, @fourth, state, dt)
        finish(start, dt)
      end

      private

      # The relief valve feels the inlet, though no water passes that way.
      def joined(network)
        pairs =
          network
            .edges
            .reject { |edge| edge.to_air? || edge.from == Passage::AIR }
            .map { |edge| [edge.from, edge.to] }
        pairs += network.cross_capacitances.map { |from, to, _| [from, to] }
        relief = network.relief_valve
        relief ? pairs << [relief.inlet, relief.zone] : pairs
      end

      # One later stage: looks where the stages before it lead, and leaves its own slope.
      def stage(number, slope, state, dt)
        mix(Scheme::A[number], number, @look)
        start = state.pressures
        look = @look
        node = 0
        while node < @size
          look[node] = start[node] + dt * look[node]
          node += 1
        end
        slope.fill(0.0)
        @network.at(state.time_s + Scheme::TIME[number] * dt, state)
        stamp_all(look, slope, nil)
        come_back(slope, Math.exp(-Scheme::TIME[number] * dt / Air::LATE_S)) if @coming.any?
        @airy.each { |airy_node| slope[airy_node] *= mass_ratio(airy_node) }
        lean_on_rates(slope, Scheme::RATE[number] * dt)
        mix(Scheme::BACK[number], number, look)
        lean_back(look, slope)
        @solver.solve!(@matrix, slope)
      end

      # Weighted sum of the stages so far, written out because this runs some ten thousand times a second.
      def mix(weights, count, into)
        w1, w2, w3 = weights
        first = @first
        second = @second
        third = @third
        node = 0
        if count == 3
          while node < @size
            into[node] = w1 * first[node] + w2 * second[node] + w3 * third[node]
            node += 1
          end
        elsif count == 2
          while node < @size
            into[node] = w1 * first[node] + w2 * second[node]
            node += 1
          end
        else
          while node < @size
            into[node] = w1 * first[node]
            node += 1
          end
        end
      end

      # Takes M·mixed from a right-hand side.
      def lean_back(mixed, slope)
        mass = @mass
        node = 0
        while node < @size
          slope[node] -= mass[node] * mixed[node]
          node += 1
        end
        @network.cross_capacitances.each do |from, to, capacitance|
          change = capacitance * (mixed[from] - mixed[to])
          slope[from] -= change
          slope[to] += change
        end
      end

      def lean_on_rates(slope, weight)
        return unless @hurried

        node = 0
        while node < @size
          slope[node] += weight * @rates[node]
          node += 1
        end
      end

      def finish(start, dt)
        linear = Array.new(@size)
        square = Array.new(@size)
        cube = Array.new(@size)
        result = Array.new(@size)
        l1, l2, l3, l4 = Scheme::DENSE[0]
        s1, s2, s3, s4 = Scheme::DENSE[1]
        c1, c2, c3, c4 = Scheme::DENSE[2]
        e1, e2, e3, e4 = Scheme::ERROR
        worst = 0.0
        node = 0
        while node < @size
          v1 = dt * @first[node]
          v2 = dt * @second[node]
          v3 = dt * @third[node]
          v4 = dt * @fourth[node]
          linear[node] = a = l1 * v1 + l2 * v2 + l3 * v3 + l4 * v4
          square[node] = b = s1 * v1 + s2 * v2 + s3 * v3 + s4 * v4
          cube[node] = c = c1 * v1 + c2 * v2 + c3 * v3 + c4 * v4
          result[node] = start[node] + a + b + c
          miss = Law.size(e1 * v1 + e2 * v2 + e3 * v3 + e4 * v4) / allowed(node, start[node])
          worst = miss if miss > worst || miss.nan?
          node += 1
        end
        @bend = [linear, square, cube]
        @pressures = result
        worst / @tightness
      end

      # psi of error that a node may show; where a volume yields much, so much less that no water is lost with it.
      def allowed(node, pressure)
        psi = TOLERANCE_PSI + RELATIVE_TOLERANCE * Law.size(pressure)
        volume = TOLERANCE_ML / @mass[node]
        psi = volume if volume < psi
        psi * @scales[node]
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

      def prepare_mass(state, dt)
        @airy.clear
        @coming.clear
        node = 0
        while node < @size
          @mass[node] = @network.capacitance(node, state)
          hose = @hose_of[node]
          if hose
            prepare_hose(node, hose, state, dt) if state.hose_air[hose] > 1.0e-6 || state.hose_gap[hose] > 0.0
          elsif @network.nodes[node].pocket?
            prepare_air(node, @network.nodes[node].pocket_ml, 0.0, state.pressures[node])
          end
          node += 1
        end
      end

      # Where a gap stands in a hose its air is at rest, and the level of its water moves with the pressure.
      def prepare_hose(node, hose, state, dt)
        air = state.hose_air[hose]
        free = Hose::VOLUME_ML * air
        offset = @network.air_offset_psi(hose, air)
        pressure = state.pressures[node] + offset
        gap = state.hose_gap[hose] > 0.0
        @mass[node] += @network.hoses[hose].gap_capacitance if gap && @network.gap?(hose, state)
        come_late(node, free, gap ? 0.0 : pressure, state.hose_late_psi[hose], dt, gap)
        prepare_air(node, free * (1.0 - Air::LATE), offset, state.pressures[node]) unless gap
      end

      def come_late(node, free, pressure, late_psi, dt, gap)
        return if free <= 0.0

        chord, following, = LateAir.over(free, late_psi, pressure, dt)
        @mass[node] += chord * following unless gap
        return if LateAir.rests?(late_psi, pressure)

        @late[node] = chord * (pressure - late_psi) / Air::LATE_S
        @coming << node
      end

      # Air that comes back takes up water the slower the longer it does, all along the step.
      def come_back(flows, left, rates = nil)
        @coming.each do |node|
          flows[node] -= @late[node] * left
          rates[node] += @late[node] / Air::LATE_S if rates
        end
        @hurried = true
      end

      def prepare_air(node, free, offset, pressure)
        @firm[node] = @mass[node]
        @air_ml[node] = free
        @air_offset[node] = offset
        @mass[node] += Air.capacitance(free, pressure + offset)
        @airy << node
      end

      # Air stiffens as it is squeezed: later stages see the capacitance of their own pressure.
      def mass_ratio(node)
        absolute = @look[node] + @air_offset[node] + Units::ATMOSPHERE_PSI
        absolute = Air::LEAST_ABSOLUTE_PSI if absolute < Air::LEAST_ABSOLUTE_PSI
        @mass[node] / (@firm[node] + @air_ml[node] * Units::ATMOSPHERE_PSI / (absolute * absolute))
      end

      def build_matrix(weight)
        weight = 0.0 - weight
        index = 0
        while index < @cells.size
          cell = @cells[index]
          @matrix[cell] = weight * @jacobian[cell]
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
