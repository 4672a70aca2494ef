# frozen_string_literal: true

module Nurv
  module Hydraulics
    # A main (or a pump) at a pressure of its own, feeding one node through a pipe.
    class Source
      WEIGHTS = [0.6, 0.3, 0.2].freeze
      # Base period about four seconds; the overtones do not divide it, so the swing never quite repeats.
      BASE_PERIOD_S = 4.0
      FREQUENCIES_HZ = [0.25, 0.43, 0.71].freeze

      attr_reader :id, :to

      # @param pressure_psi [Ramp] level over time
      # @param swing_psi [Float] amplitude of the fluctuation
      # @param phases [Array<Float>] three angles, radians
      def initialize(id, to, k:, pressure_psi:, swing_psi: 0.0, phases: [0.0, 0.0, 0.0])
        @id = id
        @to = to
        @k = k
        @level = pressure_psi
        @swing_psi = swing_psi
        @phases = phases
        at(0.0)
      end

      # @return [Integer] Passage::AIR: water from elsewhere
      def from = Passage::AIR

      # @return [Boolean]
      def to_air? = false

      # @return [Boolean]
      def shut_for_good? = false

      # @return [Array<Ramp>] of its level, where that is being changed
      def turning = @level.still? ? [] : [@level]

      # @param time_s [Float]
      # @return [Boolean] whether its pressure changes by itself then
      def moving?(time_s) = swings? || @level.moving?(time_s)

      # @return [Boolean]
      def swings? = @swing_psi > 0.0

      # Sets its pressure, psi, and the rate of it, psi/s, to what they are at this time.
      #
      # @param time_s [Float]
      def at(time_s)
        pressure = @level.position(time_s)
        rate = 0.0
        if @swing_psi > 0.0
          index = 0
          while index < 3
            omega = 2.0 * Math::PI * FREQUENCIES_HZ[index]
            angle = omega * time_s + @phases[index]
            pressure += @swing_psi * WEIGHTS[index] * Math.sin(angle)
            rate += @swing_psi * WEIGHTS[index] * omega * Math.cos(angle)
            index += 1
          end
        end
        @rate = rate
        @pressure = pressure
      end

      # mL/s into the node.
      def flow(pressures) = @k * Law.root(@pressure - pressures[@to])

      # See Passage#stamp.
      def stamp(pressures, flows, matrix, size)
        drop = @pressure - pressures[@to]
        slope = @k * Law.slope(drop)
        flows[@to] += slope * drop
        matrix[@to * size + @to] += slope * Law.steepness(drop) if matrix
      end

      # Adds dq/dt that comes from the source's own pressure, at fixed node pressures.
      def stamp_rate(pressures, rates, _time_s)
        return false if @rate == 0.0

        drop = @pressure - pressures[@to]
        rates[@to] += @k * Law.slope(drop) * Law.steepness(drop) * @rate
        true
      end
    end
  end
end
