# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Opens the zone of an RP to air as inlet minus zone pressure falls to its opening point.
    #
    # q = 400·x²·g(P_zone − port) + seat leak. The opening x follows the differential d with play:
    # x = clamp(x before, (opening − d)/1, (opening + 0.15 − d)/1) within 0..1, so it closes 0.15 psid above
    # where it opened. Source: engineering estimate.
    class ReliefValve
      include Unturned

      FULL_K = 400.0
      PLAY_PSID = 0.15

      attr_reader :id, :inlet, :zone, :opening_psid
      attr_accessor :position

      # @param inlet [Integer] node whose pressure the sensing line carries
      # @param zone [Integer] node that it drains
      # @param opening_psid [Float]
      # @param stuck [Boolean] never opens
      # @param leak_k [Float] seat leak
      # @param port_psi [Float] head of the relief port
      def initialize(id, inlet, zone, opening_psid:, port_psi:, stuck: false, leak_k: 0.0, scale: 1.0)
        @id = id
        @inlet = inlet
        @zone = zone
        @opening_psid = opening_psid
        @port_psi = port_psi
        @stuck = stuck
        @leak_k = leak_k
        @full_k = FULL_K * scale
        @position = 0.0
      end

      # @return [Integer] node of the zone
      def from = @zone

      # @return [Integer] Passage::AIR
      def to = Passage::AIR

      # @return [Boolean]
      def to_air? = true

      # @return [Float] opening 0..1 that follows from the position before and these pressures
      def follow(pressures)
        return 0.0 if @stuck

        differential = pressures[@inlet] - pressures[@zone]
        low = @opening_psid - differential
        high = low + PLAY_PSID
        x = @position
        x = low if x < low
        x = high if x > high
        x.clamp(0.0, 1.0)
      end

      # @param pressures [Array<Float>] psi per node
      # @return [Float] mL/s out of the port, never negative
      def flow(pressures)
        drop = pressures[@zone] - @port_psi
        return 0.0 if drop <= 0.0

        x = follow(pressures)
        (@full_k * x * x + @leak_k) * Law.root(drop)
      end

      # See Passage#stamp. The slope counts that its opening follows the pressures on both sides.
      def stamp(pressures, flows, matrix, size)
        drop = pressures[@zone] - @port_psi
        return if drop <= 0.0

        x = follow(pressures)
        k = @full_k * x * x + @leak_k
        return if k <= 0.0

        root = Law.root(drop)
        flows[@zone] -= k * root
        return unless matrix

        row = @zone * size
        matrix[row + @zone] += k * Law.slope(drop) * Law.steepness(drop)
        # Kept also where the position rests on its play bound, or the step hunts about the bound.
        return if x <= 0.0 || x >= 1.0

        sensitivity = @full_k * 2.0 * x * root
        matrix[row + @inlet] -= sensitivity
        matrix[row + @zone] += sensitivity
      end
    end
  end
end
