# frozen_string_literal: true

module Nurv
  module Hydraulics
    # One step of M·dP/dt = q(P, t) by the six stages of Scheme: one matrix, one factorisation, six solves.
    #
    # The tolerances are what conserving water to 0.1 mL over a whole test asks for, and of the embedded result, which
    # is an order worse than the one that is kept; see docs/simulation.md.
    class Integrator
      TOLERANCE_PSI = 0.00125
      RELATIVE_TOLERANCE = 1.25e-5
      # Of error in what any one volume holds.
      TOLERANCE_ML = 0.003
      # A swinging main is followed with less care: it never settles, and a needle that swings is not read to a
      # hundredth.
      SWING_CARELESS = 10.0

      # @return [Array<Float>] psi per node at the end of the step
      attr_reader :pressures

      # @param network [Network]
      # @param tightness [Float] multiplies the tolerance; below 1 is stricter (for refinement checks)
      def initialize(network, tightness: 1.0)
        @network = network
        @size = network.size
        @tightness = tightness
        @solver = LinearSolver.new(@size, joined(network))
        @matrix = Array.new(@size * @size, 0.0)
        # mL of water that each node takes up per psi, and that over γ times the step.
        @mass = Array.new(@size, 0.0)
        @hold = Array.new(@size, 0.0)
        @allowed = Array.new(@size, 0.0)
        # Nodes that may hold air, and the hose that each is.
        @soft = network.hoses.each_with_index.map { |hose, position| [hose.node, position] }
        @soft += network.nodes.each_index.select { |node| network.nodes[node].pocket? }.map { |node| [node, nil] }
        @tightness *= SWING_CARELESS if network.sources.any?(&:swings?)
        @rates = Array.new(@size, 0.0)
        @leaning = []
        @look = Array.new(@size, 0.0)
        @back = Array.new(@size, 0.0)
        @first, @second, @third, @fourth, @fifth, @sixth = Array.new(Scheme::STAGES) { Array.new(@size, 0.0) }
        @scales = network.nodes.map(&:tolerance_scale)
        # Nodes with air in them: what does not stiffen, mL of air that does, and its pressure over the node's.
        @airy = []
        @firm = Array.new(@size, 0.0)
        @air_ml = Array.new(@size, 0.0)
        @air_offset = Array.new(@size, 0.0)
        # Nodes whose air still comes back from before, and mL/s of water that it takes up as the step begins.
        @coming = []
        @late = Array.new(@size, 0.0)
      end

      # @return [Array<Float>] what the stages of the step tried last found, psi per node, one stage after another and
      #   without the last, which its dense output does not ask about: see Step
      def stages = [*@first, *@second, *@third, *@fourth, *@fifth]

      # Tries one step. Results are in #pressures and #stages.
      #
      # @param state [State]
      # @param dt [Float] seconds
      # @return [Float] error over tolerance; up to 1 is good
      def try(state, dt)
        network = @network
        start = state.pressures
        prepare_mass(state, dt)
        @matrix.fill(0.0)
        @rates.fill(0.0)
        network.at(state.time_s, state)
        first = @first.fill(0.0)
        stamp_all(start, first, @matrix)
        network.stamp_rates(start, @rates, state.time_s)
        come_back(first, 1.0, @rates) if @coming.any?
        find_leaning
        hold(1.0 / (Scheme::GAMMA * dt))
        @airy.each { |node| lean_on_air(node, start, first) }
        @solver.factor!(@matrix)
        lean_on_rates(first, Scheme::RATE[0] * dt)
        @solver.solve!(@matrix, first)
        stage(1, @second, state, dt)
        stage(2, @third, state, dt)
        stage(3, @fourth, state, dt)
        stage(4, @fifth, state, dt)
        stage(5, @sixth, state, dt)
        finish(start)
      end

      private

      # The relief valve feels the inlet, though no water passes that way.
      def joined(network)
        pairs =
          network
            .ways
            .reject { |edge| edge.to_air? || edge.from == Passage::AIR }
            .map { |edge| [edge.from, edge.to] }
        pairs += network.cross_capacitances.map { |from, to, _| [from, to] }
        relief = network.relief_valve
        relief ? pairs << [relief.inlet, relief.zone] : pairs
      end

      # One later stage: looks where the stages before it lead, and leaves its own slope.
      def stage(number, slope, state, dt)
        lead(number, state.pressures, slope)
        # The last looks at the same moment as the one before.
        @network.at(state.time_s + Scheme::TIME[number] * dt, state) if number < 5
        stamp_all(@look, slope, nil)
        come_back(slope, Math.exp(-Scheme::TIME[number] * dt / Air::LATE_S)) if @coming.any?
        @airy.each { |node| stiffen(node, slope) }
        lean_on_rates(slope, Scheme::RATE[number] * dt) if number < 4
        lean_across(slope)
        @solver.solve!(@matrix, slope)
      end

      # Weighted sums of the stages so far: where the next one looks, and what it takes back, which its right-hand side
      # begins with. Written out because this runs some ten thousand times a second, and what costs is each single
      # product; and a method for each stage, since with all in one all water costs a sixth more (measured in turns).
      def lead(number, start, slope)
        case number
        when 1 then lead_second(start, slope)
        when 2 then lead_third(start, slope)
        when 3 then lead_fourth(start, slope)
        when 4 then lead_fifth(start, slope)
        else lead_sixth(slope)
        end
      end

      def lead_second(start, slope)
        look = @look
        back = @back
        hold = @hold
        first = @first
        a1, = Scheme::A[1]
        b1, = Scheme::TAKEN[1]
        node = 0
        while node < @size
          v1 = first[node]
          look[node] = start[node] + a1 * v1
          back[node] = taken = b1 * v1
          slope[node] = hold[node] * taken
          node += 1
        end
      end

      def lead_third(start, slope)
        look = @look
        back = @back
        hold = @hold
        first = @first
        second = @second
        a1, a2 = Scheme::A[2]
        b1, b2 = Scheme::TAKEN[2]
        node = 0
        while node < @size
          v1 = first[node]
          v2 = second[node]
          look[node] = start[node] + a1 * v1 + a2 * v2
          back[node] = taken = b1 * v1 + b2 * v2
          slope[node] = hold[node] * taken
          node += 1
        end
      end

      def lead_fourth(start, slope)
        look = @look
        back = @back
        hold = @hold
        first = @first
        second = @second
        third = @third
        a1, a2, a3 = Scheme::A[3]
        b1, b2, b3 = Scheme::TAKEN[3]
        node = 0
        while node < @size
          v1 = first[node]
          v2 = second[node]
          v3 = third[node]
          look[node] = start[node] + a1 * v1 + a2 * v2 + a3 * v3
          back[node] = taken = b1 * v1 + b2 * v2 + b3 * v3
          slope[node] = hold[node] * taken
          node += 1
        end
      end

      def lead_fifth(start, slope)
        look = @look
        back = @back
        hold = @hold
        first = @first
        second = @second
        third = @third
        fourth = @fourth
        a1, a2, a3, a4 = Scheme::A[4]
        b1, b2, b3, b4 = Scheme::TAKEN[4]
        node = 0
        while node < @size
          v1 = first[node]
          v2 = second[node]
          v3 = third[node]
          v4 = fourth[node]
          look[node] = start[node] + a1 * v1 + a2 * v2 + a3 * v3 + a4 * v4
          back[node] = taken = b1 * v1 + b2 * v2 + b3 * v3 + b4 * v4
          slope[node] = hold[node] * taken
          node += 1
        end
      end

      # From where the fifth looked it goes on by what that found.
      def lead_sixth(slope)
        look = @look
        back = @back
        hold = @hold
        first = @first
        second = @second
        third = @third
        fourth = @fourth
        fifth = @fifth
        b1, b2, b3, b4, b5 = Scheme::TAKEN[5]
        node = 0
        while node < @size
          v5 = fifth[node]
          look[node] += v5
          back[node] = taken = b1 * first[node] + b2 * second[node] + b3 * third[node] + b4 * fourth[node] + b5 * v5
          slope[node] = hold[node] * taken
          node += 1
        end
      end

      # What a disc between two nodes takes back of both.
      def lean_across(slope)
        @network.cross_capacitances.each do |from, to, capacitance|
          change = capacitance * @over * (@back[from] - @back[to])
          slope[from] += change
          slope[to] -= change
        end
      end

      # Few nodes have a flow that changes by itself.
      def find_leaning
        @leaning.clear
        node = 0
        while node < @size
          @leaning << node if @rates[node] != 0.0
          node += 1
        end
      end

      def lean_on_rates(slope, weight)
        index = 0
        while index < @leaning.size
          node = @leaning[index]
          slope[node] += weight * @rates[node]
          index += 1
        end
      end

      # The last stage looked at all of the result but its own part, and that is how far the embedded one lies off.
      def finish(start)
        look = @look
        sixth = @sixth
        allowed = @allowed
        scales = @scales
        result = Array.new(@size)
        worst = 0.0
        node = 0
        while node < @size
          miss = sixth[node]
          result[node] = look[node] + miss
          miss = 0.0 - miss if miss < 0.0
          pressure = start[node]
          psi = TOLERANCE_PSI + RELATIVE_TOLERANCE * ((pressure < 0.0) ? 0.0 - pressure : pressure)
          # Where a volume yields much, so much less that no water is lost with it.
          psi = allowed[node] if allowed[node] < psi
          miss /= psi * scales[node]
          worst = miss if miss > worst || miss.nan?
          node += 1
        end
        @pressures = result
        worst / @tightness
      end

      def stamp_all(pressures, flows, matrix)
        ways = @network.ways
        count = ways.size
        index = 0
        while index < count
          ways[index].stamp(pressures, flows, matrix, @size)
          index += 1
        end
      end

      def prepare_mass(state, dt)
        find_firm(state) unless @present.equal?(state.air_present) && !hollow?(state.pressures) && !@hollow
        @mass.replace(@firm_mass)
        @allowed.replace(@firm_allowed)
        @airy.clear
        @coming.clear
        @soft.each do |node, hose|
          if hose
            next unless state.hose_air[hose] > 1.0e-6 || state.hose_gap[hose] > 0.0

            prepare_hose(node, hose, state, dt)
          else
            prepare_air(node, @network.nodes[node].pocket_ml, 0.0, state.pressures[node])
          end
          @allowed[node] = TOLERANCE_ML / @mass[node]
        end
      end

      # @return [Boolean] a cavity stands somewhere
      def hollow?(pressures)
        node = 0
        while node < @size
          return true if pressures[node] < Cavity::FORMS_PSI

          node += 1
        end
        false
      end

      # What nodes take up with no air in hoses and pockets: the same while no free surface or cavity comes or goes.
      def find_firm(state)
        @present = state.air_present
        @hollow = hollow?(state.pressures)
        @firm_mass = Array.new(@size) { |node| @network.capacitance(node, state) }
        @firm_allowed = @firm_mass.map { |mass| TOLERANCE_ML / mass }
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
      end

      def prepare_air(node, free, offset, pressure)
        @firm[node] = @mass[node]
        @air_ml[node] = free
        @air_offset[node] = offset
        @mass[node] += Air.capacitance(free, pressure + offset)
        @airy << node
      end

      # What flows into air counts for the more the stiffer that is: the slope of the flow by its pressure that
      # #stiffen adds, at the start of the step.
      def lean_on_air(node, start, flows)
        absolute = start[node] + @air_offset[node] + Units::ATMOSPHERE_PSI
        return if absolute < Air::LEAST_ABSOLUTE_PSI

        yields = @mass[node] - @firm[node]
        @matrix[node * @size + node] -= 2.0 * flows[node] * yields / (@mass[node] * absolute)
      end

      # Air stiffens as it is squeezed: later stages see the capacitance of their own pressure.
      def stiffen(node, slope)
        absolute = @look[node] + @air_offset[node] + Units::ATMOSPHERE_PSI
        absolute = Air::LEAST_ABSOLUTE_PSI if absolute < Air::LEAST_ABSOLUTE_PSI
        ratio = @mass[node] / (@firm[node] + @air_ml[node] * Units::ATMOSPHERE_PSI / (absolute * absolute))
        taken = @hold[node] * @back[node]
        slope[node] = (slope[node] - taken) * ratio + taken
      end

      # Adds to the matrix what the nodes themselves hold.
      #
      # @param over [Float] 1/hγ, 1/s
      def hold(over)
        @over = over
        node = 0
        while node < @size
          @hold[node] = held = @mass[node] * over
          @matrix[node * @size + node] += held
          node += 1
        end
        @network.cross_capacitances.each do |from, to, capacitance|
          Stamp.pair(@matrix, @size, from, to, capacitance * over)
        end
      end
    end
  end
end
