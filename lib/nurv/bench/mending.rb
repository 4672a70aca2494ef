# frozen_string_literal: true

module Nurv
  module Bench
    # The part of Hands that opens things up: mending a component with the water off, and clearing a blocked test
    # cock.
    module Mending
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
        change = {kind: "repair", component: part.to_s, action: way.id.to_s, at_s: @time_s}
        @state.with(water: drained, changes: (@state.changes + [change]).freeze)
      end

      def parts = @station.assembly.components + @station.assembly.shutoff_valves + @station.assembly.test_cocks.keys

      def water_off!(part)
        open =
          case part
          when :shutoff_valve_1
            []
          when :shutoff_valve_2
            [:shutoff_valve_1]
          else
            @station.assembly.shutoff_valves
          end.select { |valve| @state.open?(valve) }
        if open.any?
          raise RefusedAction.new(:under_pressure, controls: open)
        end
      end

      # What stood in the body runs out when it is opened, and air stands where it was.
      def drained
        water = water_now
        network = @span.network
        body = @station.assembly.nodes.map { |node| node[:id].to_sym } - %i[supply downstream]
        body << :level if network.index.key?(:level)
        pressures = water.pressures.dup
        air = water.air_present.dup
        body
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
