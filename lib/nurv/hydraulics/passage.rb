# frozen_string_literal: true

module Nurv
  module Hydraulics
    # A way for water between two nodes, or from a node to air, through valves in series.
    class Passage
      AIR = -1
      # How far ahead a moving control is looked at, s, to see how fast its flow changes.
      GLANCE_S = 1.0e-4
      # Just below the brim of a one-way opening the Jacobian keeps the slope it has at the brim, psi. The flow is
      # none; but a step that ends there and knows nothing of what lies a hair above hunts about the brim for ever.
      BRIM_PSI = 0.001

      # A chamber that is empty gives air back and no water: its flow fades out over this last bit, psi.
      DRY_PSI = 0.002

      attr_reader :id, :from, :to, :conductance, :air_psi

      # @param id [Symbol]
      # @param from [Integer] index of a node
      # @param to [Integer] index of a node, or AIR
      # @param valves [Array<Valve>]
      # @param air_psi [Float] pressure head of the opening to air above the pipe's centre line
      # @param one_way [Boolean] water leaves but does not come back (an open cock, a brim)
      # @param dry_psi [Float, nil] pressure of `to` at which that chamber is empty
      def initialize(id, from, to, valves, air_psi: 0.0, one_way: false, dry_psi: nil)
        @id = id
        @from = from
        @to = to
        @valves = valves
        @air_psi = air_psi
        @one_way = one_way
        @dry_psi = dry_psi
        @turning = valves.map(&:ramp).reject(&:still?)
        @still_from_s = @turning.map(&:end_s).max || 0.0
        @still = false
        at(0.0)
      end

      # Sets every control to where it stands at this time.
      def at(time_s)
        still = time_s >= @still_from_s
        return @conductance if still && @still

        @still = still
        conductance = nil
        @valves.each do |valve|
          k = valve.conductance(time_s)
          conductance = conductance ? Law.series(conductance, k) : k
        end
        @conductance = conductance
      end

      # @param time_s [Float]
      # @return [Boolean] whether one of its controls is on its way then
      def moving?(time_s) = @valves.any? { |valve| valve.ramp.moving?(time_s) }

      # @return [Boolean] one of its controls lets nothing through, now and as far as it is being turned
      def shut_for_good? = @valves.any?(&:shut_for_good?)

      # @return [Array<Ramp>] of those of its controls that are turned, in the water's order
      attr_reader :turning

      # @return [Boolean]
      def to_air? = @to == AIR

      # @return [Boolean] whether water leaves and does not come back
      def one_way? = @one_way

      # @param pressures [Array<Float>]
      # @return [Float] mL/s, positive from `from` to `to`
      def flow(pressures)
        drop = drop(pressures)
        return 0.0 if shut_to?(drop)

        wet(drop, pressures) * @conductance * Law.root(drop)
      end

      # Adds dq/dt that comes from a control under way, at fixed node pressures.
      #
      # @return [Boolean] whether there was any
      def stamp_rate(pressures, rates, time_s)
        return false if time_s >= @still_from_s

        drop = drop(pressures)
        return false if shut_to?(drop)

        gain = wet(drop, pressures) * gain_of(drop, time_s)
        rates[@from] -= gain
        rates[@to] += gain if @to != AIR
        true
      end

      # Adds this edge's flow to the balance of its nodes, and takes its slopes from the matrix of the step (row-major),
      # which holds what a node keeps, and so the Jacobian with its sign turned.
      def stamp(pressures, flows, matrix, size)
        return if @conductance <= 0.0

        if @to == AIR
          drop = pressures[@from] - @air_psi
          if @one_way && drop <= 0.0
            matrix[@from * size + @from] += @conductance * Law.slope(0.0) if matrix && drop > -BRIM_PSI
            return
          end

          slope = @conductance * Law.slope(drop)
          flows[@from] -= slope * drop
          matrix[@from * size + @from] += slope * Law.steepness(drop) if matrix
        else
          drop = pressures[@from] - pressures[@to]
          slope = @conductance * Law.slope(drop)
          return stamp_drying(slope, drop, pressures, flows, matrix, size) if @dry_psi && drop < 0.0

          flow = slope * drop
          flows[@from] -= flow
          flows[@to] += flow
          Stamp.pair(matrix, size, @from, @to, slope * Law.steepness(drop)) if matrix
        end
      end

      private

      # What drives water from the first end to the second, psi.
      def drop(pressures) = pressures[@from] - ((@to == AIR) ? @air_psi : pressures[@to])

      # @return [Boolean] nothing goes that way
      def shut_to?(drop) = @one_way && drop <= 0.0

      # What the flow gains per second from a control under way.
      def gain_of(drop, time_s)
        here = @conductance
        gain = (at(time_s + GLANCE_S) - here) / GLANCE_S * Law.root(drop)
        @conductance = here
        @still = false
        gain
      end

      def stamp_drying(slope, drop, pressures, flows, matrix, size)
        wet = wet(drop, pressures)
        flow = wet * slope * drop
        flows[@from] -= flow
        flows[@to] += flow
        return unless matrix

        Stamp.pair(matrix, size, @from, @to, wet * slope * Law.steepness(drop))
        fade(matrix, size, slope * drop / DRY_PSI) if wet < 1.0 && wet > 0.0
      end

      # The flow out of a chamber that is nearly empty follows its own pressure as well.
      def fade(matrix, size, slope)
        matrix[@to * size + @to] -= slope
        matrix[@from * size + @to] += slope
      end

      # Share of the flow that there is water for.
      def wet(drop, pressures)
        return 1.0 if @dry_psi.nil? || drop >= 0.0

        ((pressures[@to] - @dry_psi) / DRY_PSI).clamp(0.0, 1.0)
      end
    end
  end
end
