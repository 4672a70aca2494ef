# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The poppet of a PVB: opens the body to air as body pressure at its own height falls to its opening pressure.
    class AirInlet
      include Unturned

      FULL_K = 300.0
      TRAVEL_S = 0.25
      RECLOSE_RATIO = 1.15

      attr_reader :id, :body, :opening_psi, :elevation_psi, :area, :level, :full_k
      attr_accessor :fraction

      # @param body [Integer] node
      # @param opening_psi [Float] body pressure, at the inlet's height, where it opens
      # @param area [Float] 1 opens fully; 0.1 only partly
      # @param level [Integer, nil] node of the water's level in the body, where that stands apart: see AirGap
      def initialize(id, body, opening_psi:, elevation_psi:, stuck: false, area: 1.0, scale: 1.0, level: nil)
        @id = id
        @body = body
        @opening_psi = opening_psi
        @elevation_psi = elevation_psi
        @stuck = stuck
        @area = area
        @level = level
        @full_k = FULL_K * scale
        @fraction = 0.0
      end

      # @return [Integer] node that it opens
      def from = @body

      # @return [Integer] Passage::AIR
      def to = Passage::AIR

      # @return [Boolean]
      def to_air? = true

      # Body pressure (at the pipe's centre line) where it next changes its mind.
      def opens_below_psi = @stuck ? -Float::INFINITY : @opening_psi + @elevation_psi

      # @return [Float] psi, higher than where it opens: the poppet has to be lifted back
      def closes_above_psi = @opening_psi * RECLOSE_RATIO + @elevation_psi

      # @param pressures [Array<Float>] psi per node
      # @return [Float] mL/s out to air, never negative: the air that comes in is no water
      def flow(pressures)
        drop = pressures[@body] - @elevation_psi
        (drop <= 0.0) ? 0.0 : @full_k * @area * @fraction * Law.root(drop) * fullness(pressures)
      end

      # See Passage#stamp.
      def stamp(pressures, flows, matrix, size)
        k = @full_k * @area * @fraction
        drop = pressures[@body] - @elevation_psi
        return if k <= 0.0

        # See Passage::BRIM_PSI.
        if drop <= 0.0
          matrix[@body * size + @body] += k * Law.slope(0.0) if matrix && drop > -Passage::BRIM_PSI
          return
        end

        slope = k * Law.slope(drop) * fullness(pressures)
        flows[@body] -= slope * drop
        matrix[@body * size + @body] += slope * Law.steepness(drop) if matrix
      end

      private

      # Below the top of its body it is air that goes out.
      def fullness(pressures)
        return 1.0 unless @level

        ((pressures[@level] - @elevation_psi) / AirGap::BRIM_PSI + 1.0).clamp(0.0, 1.0)
      end
    end
  end
end
