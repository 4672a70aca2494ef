# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Moments at which the equations themselves change: a poppet opens or closes, a free surface forms or is gone.
    module Turning
      NUDGE_PSI = 1.0e-6
      # A free surface forms this far below the top of its volume and is gone at the top, psi (an eighth of an inch).
      # At one and the same level a bleed that holds the body there made and unmade it a hundred times a second.
      BRIM_PSI = 0.005

      module_function

      # @return [Float, nil] how far along the step (0..1) the first such moment lies
      def earliest(network, step)
        pressures = step.reached
        cavities(step, thresholds(network, step.start)).filter_map { |node, level, direction|
          before = (step.start.pressures[node] - level) * direction
          after = (pressures[node] - level) * direction
          locate(step, node, level, direction) if before > NUDGE_PSI && after < -NUDGE_PSI
        }.min
      end

      # Levels that matter now: node, psi, +1 when it matters on the way down and −1 on the way up.
      def thresholds(network, state)
        list = []
        inlet = network.air_inlet
        if inlet
          closed = state.air_inlet_target.zero?
          list << [inlet.body, closed ? inlet.opens_below_psi : inlet.closes_above_psi, closed ? 1.0 : -1.0]
        end
        gaps(network, state, list)
        network.surfaces.each do |index|
          top = network.nodes[index].free_surface.top_psi
          list << (state.air_present[index] ? [index, top, -1.0] : [index, top - BRIM_PSI, 1.0])
        end
        list
      end

      # Nodes in which water is pulled apart along this step, or comes together again.
      def cavities(step, list)
        before = step.start.pressures
        after = step.reached
        node = 0
        while node < after.size
          if Cavity.forms?(before[node])
            list << [node, Cavity::FORMS_PSI, -1.0] unless Cavity.forms?(after[node])
          elsif Cavity.forms?(after[node])
            list << [node, Cavity::FORMS_PSI, 1.0]
          end
          node += 1
        end
        list
      end

      # A hose's gap is closed when its water is up again, and as wide as it can be when the hose is empty.
      def gaps(network, state, list)
        state.hose_gap.each_index do |hose|
          gap = state.hose_gap[hose]
          next unless gap > 0.0

          item = network.hoses[hose]
          empty = item.top_psi - item.column_psi
          if network.emptied?(hose, state)
            list << [item.node, empty, -1.0]
          else
            list << [item.node, item.top_psi - state.hose_air[hose] * item.column_psi, -1.0]
            list << [item.node, empty, 1.0]
          end
        end
      end

      # Where along a step a node's pressure passes a level, by halving.
      #
      # @param step [Step]
      # @param node [Integer]
      # @param level [Float] psi
      # @param direction [Float] 1.0 if it falls through it, -1.0 if it rises
      # @return [Float] 0..1 along the step, just beyond it
      def locate(step, node, level, direction)
        low = 0.0
        high = 1.0
        40.times do
          middle = (low + high) / 2.0
          ((step.pressure(node, middle) - level) * direction > 0.0) ? low = middle : high = middle
        end
        high
      end

      # Moves the poppet on by dt, and says where it is bound after this step.
      def air_inlet(network, start, finish, dt)
        inlet = network.air_inlet
        return unless inlet

        pressure = finish.pressures[inlet.body]
        target = start.air_inlet_target
        if target.zero?
          finish.air_inlet_target = 1.0 if pressure <= inlet.opens_below_psi + NUDGE_PSI
        elsif pressure >= inlet.closes_above_psi - NUDGE_PSI
          finish.air_inlet_target = 0.0
        end
        finish.air_inlet_fraction = poppet(start, dt)
      end

      # @return [Float] 0..1 how far the poppet stands off its seat, dt after this state and before the next step
      def poppet(state, dt)
        travel = dt / AirInlet::TRAVEL_S
        fraction = state.air_inlet_fraction
        target = state.air_inlet_target
        (target > fraction) ? [fraction + travel, target].min : [fraction - travel, target].max
      end

      # @return [Array<Boolean>] per node; the same array when nothing changed
      def air_present(network, state, pressures)
        changed = nil
        network.surfaces.each do |index|
          top = network.nodes[index].free_surface.top_psi
          present = if state.air_present[index]
            pressures[index] < top - NUDGE_PSI
          else
            pressures[index] <= top - BRIM_PSI + NUDGE_PSI && network.vented?(index, state)
          end
          (changed ||= state.air_present.dup)[index] = present if present != state.air_present[index]
        end
        changed&.freeze || state.air_present
      end

      # A volume that was full when air first gets in: the water that it lacked under vacuum is what its surface stands
      # below the top. No water comes or goes with it.
      #
      # @return [Array<Float>] psi per node; the same array when nothing changed
      def brimful(network, start, finish)
        changed = nil
        network.surfaces.each do |index|
          node = network.nodes[index]
          top = node.free_surface.top_psi
          next if start.air_present[index] || !finish.air_present[index] || finish.pressures[index] >= top

          (changed ||= finish.pressures.dup)[index] = under(node, top, finish.pressures[index])
        end
        changed&.freeze || finish.pressures
      end

      # By halving: a pocket of air yields by a curve.
      def under(node, top, pressure)
        held = node.held_ml(pressure)
        low = pressure
        high = top
        50.times do
          middle = (low + high) / 2.0
          holds = node.held_ml(middle) + node.free_surface.capacitance * (middle - top)
          (holds > held) ? high = middle : low = middle
        end
        high
      end
      private_class_method :under, :gaps
    end
  end
end
