# frozen_string_literal: true

module Nurv
  module Bench
    # The part of Hands that opens things up: mending a component with the water off, and clearing a blocked test
    # cock.
    #
    # Nothing is opened that is under pressure: the tester closes what feeds it and relieves it at the test cocks. The
    # inlet shutoff has the main on it, which only the water supplier shuts off.
    module Mending
      # What stands no higher than this is relieved, psi: a drip at an open cock.
      RELIEVED_PSI = 1.0

      private

      # Opens a part up and mends it. The fault goes only if this was the right thing to do to the right part.
      def repair(action)
        part = action.named(:component)
        way = @station.catalog.repairs[action.named(:action)]
        raise RefusedAction.new(:no_repairs_here) unless @station.repairs?
        unless way&.fits?(part)
          raise RefusedAction.new(:repair_unfit, typed: action[:action], thing: part)
        end
        raise RefusedAction.new(:no_such_part, part: part) unless parts.include?(part)

        water_off!(part)
        relieved!(part) if @new
        change = {kind: "repair", component: part.to_s, action: way.id.to_s, at_s: @time_s}
        @state.with(water: drained, changes: (@state.changes + [change]).freeze)
      end

      def parts = @station.assembly.components + @station.assembly.shutoff_valves + @station.assembly.test_cocks.keys

      def water_off!(part)
        inlet, outlet = @station.assembly.shutoff_valves
        raise RefusedAction.new(:under_main_pressure, control: inlet) if part == inlet && @new

        needed = {inlet => [], outlet => [inlet]}.fetch(part, [inlet, outlet])
        open = needed.select { |valve| @state.open?(valve) }
        raise RefusedAction.new(:under_pressure, controls: open) if open.any?
      end

      # Whoever opens a part has let the pressure off first, where it can be seen.
      def relieved!(part)
        pressures = water_now.pressures
        nodes = body
        nodes += [:downstream] if part == @station.assembly.shutoff_valves.last
        high = nodes.select { |node| pressures[@span.network.index.fetch(node)] > RELIEVED_PSI }
        raise RefusedAction.new(:not_relieved, controls: outlets_of(high)) if high.any?
      end

      # @return [Array<Symbol>] where the water of these chambers can be let out
      def outlets_of(nodes)
        cocks = @station.assembly.test_cocks.values.select { |cock| nodes.include?(cock.node) }.map(&:id)
        nodes.include?(:downstream) ? cocks + [:downstream_tap] : cocks
      end

      def body = @station.assembly.body_nodes

      # What stood in the body runs out when it is opened, and air stands where it was.
      def drained
        water = water_now
        network = @span.network
        nodes = body
        nodes += [:level] if network.index.key?(:level)
        pressures = water.pressures.dup
        air = water.air_present.dup
        nodes
          .map { |node| network.index[node] }
          .each do |node|
            pressures[node] = [pressures[node], 0.0].min
            surface = network.nodes[node].free_surface
            air[node] = true if surface && pressures[node] < surface.top_psi
          end
        water.with(pressures: pressures.freeze, air_present: air.freeze)
      end

      # Pushes a wire through a shut test cock's outlet and bore.
      def clear(cock)
        uncapped!(cock)
        raise RefusedAction.new(:close_first, control: cock) if @state.open?(cock)
        raise RefusedAction.new(:take_off_first, control: cock) if @state.on_test_cock(cock)

        @state.with(
          water: water_now,
          changes: (@state.changes + [{kind: "clean", component: cock.to_s, action: "clear_passage"}]).freeze
        )
      end
    end
  end
end
