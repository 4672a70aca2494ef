# frozen_string_literal: true

module Nurv
  module Hydraulics
    # How the hoses are filled at the end of a step: air that water swept along, air that came back late, gaps that
    # opened behind the kit, moved with the water, or were shut in.
    class Filling
      # Less air than this in a hose is none.
      NO_AIR = 1.0e-4
      # A hose with no less air than this is empty.
      ALL_AIR = 1.0 - 1.0e-6
      # A pressure that moves less than this over a step stands, psi.
      AT_REST_PSI = 1.0e-8

      # @param network [Network]
      def initialize(network)
        @network = network
        @hoses = network.hoses
        @count = @hoses.size
      end

      # @param start [State]
      # @param finish [State] at the end of the step; its hoses, and the pressure of one that a gap opens in, are set
      def fill(start, finish, dt)
        return if still?(start, finish)

        finish.hose_late_psi = late_after(start, finish, dt)
        finish.hose_gap = moved_gaps(start, finish)
        finish.hose_air = swept(start, finish, dt)
        hose = 0
        while hose < @count
          open_or_shut(hose, finish) if finish.hose_gap[hose] > 0.0 || falls?(hose, finish)
          hose += 1
        end
        finish.hose_late_psi.freeze
        finish.hose_gap.freeze
        finish.hose_air.freeze
        finish.pressures.freeze
      end

      # @param state [State]
      # @return [Float] mL that the late part of trapped air still gives way by, in the hose that has most to come
      def coming_back_ml(state)
        most = 0.0
        hose = 0
        while hose < @count
          air = state.hose_air[hose]
          late = state.hose_late_psi[hose]
          if air >= NO_AIR
            pressure = air_psi(hose, state)
            unless LateAir.rests?(late, pressure)
              coming = (Air.chord(Hose::VOLUME_ML * air * Air::LATE, late, pressure) * (pressure - late)).abs
              most = coming if coming > most
            end
          end
          hose += 1
        end
        most
      end

      private

      # Pressure of the air in a hose: that of the room behind a gap.
      def air_psi(hose, state)
        return 0.0 if state.hose_gap[hose] > 0.0

        state.pressures[@hoses[hose].node] + @network.air_offset_psi(hose, state.hose_air[hose])
      end

      # Every hose is full of water with nothing that pulls it away from the kit, or hangs there as it did.
      def still?(start, finish)
        hose = 0
        while hose < @count
          return false if start.hose_gap[hose] > 0.0 || falls?(hose, finish)
          return false unless start.hose_air[hose] < NO_AIR || rests?(hose, start, finish)

          hose += 1
        end
        true
      end

      # With air in it, and neither water through it nor pressure on it.
      def rests?(hose, start, finish)
        node = @hoses[hose].node
        pressure = finish.pressures[node]
        (pressure - start.pressures[node]).abs < AT_REST_PSI && !@network.passes?(hose) &&
          LateAir.rests?(start.hose_late_psi[hose], pressure + @network.air_offset_psi(hose, start.hose_air[hose]))
      end

      def falls?(hose, state)
        item = @hoses[hose]
        return false unless item.column?

        air = state.hose_air[hose]
        air < ALL_AIR && state.pressures[item.node] < item.top_psi - air * item.column_psi - Turning::BRIM_PSI
      end

      def late_after(start, finish, dt)
        Array.new(@count) do |hose|
          air = start.hose_air[hose]
          pressure = air_psi(hose, start)
          next pressure if air < NO_AIR

          node = @hoses[hose].node
          change = (start.hose_gap[hose] > 0.0) ? 0.0 : finish.pressures[node] - start.pressures[node]
          LateAir.after(Hose::VOLUME_ML * air, start.hose_late_psi[hose], pressure, change, dt)
        end
      end

      # A gap is as wide as the water has sunk.
      def moved_gaps(start, finish)
        return start.hose_gap if start.hose_gap.all?(&:zero?)

        start.hose_gap.each_with_index.map do |gap, hose|
          next gap if gap.zero?

          item = @hoses[hose]
          air = start.hose_air[hose]
          wide = (item.top_psi - finish.pressures[item.node]) / item.column_psi - air
          wide.clamp(0.0, 1.0 - air)
        end
      end

      def swept(start, finish, dt)
        lost = nil
        hose = 0
        while hose < @count
          air = start.hose_air[hose]
          if air >= NO_AIR && @network.passes?(hose)
            through = @network.through_flow(hose, start.pressures) + @network.through_flow(hose, finish.pressures)
            (lost ||= Array.new(@count, 0.0))[hose] = air - Hose.swept(air, through / 2.0, dt) if through > 0.0
          end
          hose += 1
        end
        # The same array while it holds the same: whoever feels it need not feel it again.
        return start.hose_air unless lost

        gained = @network.passed_on(lost, finish.pressures)
        Array.new(@count) { |hose| [start.hose_air[hose] - lost[hose] + gained[hose], 1.0].min }
      end

      # A gap forms where water falls away from an opening, and is trapped air once that is shut.
      def open_or_shut(hose, finish)
        if finish.hose_gap[hose] > 0.0
          trap(hose, finish) unless @network.open_to_air?(hose, finish.pressures, finish, flooded: true)
        elsif @network.open_to_air?(hose, finish.pressures, finish)
          fall(hose, finish)
        end
      end

      # What it lacked below the brim its surface stands lower; no water comes or goes.
      def fall(hose, finish)
        own_arrays(finish)
        item = @hoses[hose]
        air = finish.hose_air[hose]
        brim = item.top_psi - air * item.column_psi
        lacks = brim - finish.pressures[item.node]
        firm = @network.nodes[item.node].capacitance
        soft = Air.capacitance(Hose::VOLUME_ML * air * (1.0 - Air::LATE), -lacks)
        lacking_ml = lacks * (firm + soft) - Cavity.held_ml(finish.pressures[item.node])
        sunk = lacking_ml / (firm + item.gap_capacitance)
        gap = sunk / item.column_psi
        return if air + gap > 1.0

        finish.hose_gap[hose] = gap
        finish.pressures = finish.pressures.dup if finish.pressures.frozen?
        finish.pressures[item.node] = brim - sunk
      end

      def own_arrays(finish)
        finish.hose_gap = finish.hose_gap.dup if finish.hose_gap.frozen?
        finish.hose_air = finish.hose_air.dup if finish.hose_air.frozen?
      end

      # All its air is of one sort from here on, and takes up the room that it took.
      def trap(hose, finish)
        own_arrays(finish)
        item = @hoses[hose]
        air = finish.hose_air[hose]
        gap = finish.hose_gap[hose]
        apart = [0.0, finish.pressures[item.node] + @network.air_offset_psi(hose, air + gap)].min
        late_ml = Air.volume_ml(air * Air::LATE, finish.hose_late_psi[hose]) + gap * Air::LATE
        all = (air + gap) * Air.absolute(apart) / Units::ATMOSPHERE_PSI
        finish.hose_late_psi[hose] = Air.pressure_psi(all * Air::LATE, late_ml)
        finish.hose_air[hose] = all
        finish.hose_gap[hose] = 0.0
      end
    end
  end
end
