# frozen_string_literal: true

module Nurv
  module Hydraulics
    # One lumped volume of water with one pressure.
    class Node
      # The part of a volume that becomes a free water surface once air can get in.
      FreeSurface = Struct.new(:volume_ml, :bottom_psi, :top_psi) do
        # @return [Float] mL of water per psi of head while there is a surface
        def capacitance = volume_ml / (top_psi - bottom_psi)
      end

      # Volume of a hose that air may fill, mL. Estimate: six feet of 1/4 in hose.
      HOSE_VOLUME_ML = 45.0

      attr_reader :id, :capacitance, :tolerance_scale, :free_surface

      # @param id [Symbol]
      # @param capacitance [Float] mL of water per psi
      # @param tolerance_scale [Float] > 1 lets the integrator be less careful with a tiny volume
      # @param free_surface [FreeSurface, nil]
      # @param hose [Boolean] may hold trapped air
      def initialize(id, capacitance, tolerance_scale: 1.0, free_surface: nil, hose: false)
        @id = id
        @capacitance = Float(capacitance)
        @tolerance_scale = tolerance_scale
        @free_surface = free_surface
        @hose = hose
        freeze
      end

      # @return [Boolean] whether it may hold trapped air
      def hose? = @hose

      # Air in a hose yields with pressure (Boyle): dV/dP = V0·p0/(P + p0)².
      #
      # @param air [Float] fraction of the hose filled with air at atmospheric pressure, 0..1
      # @param pressure_psi [Float] gauge
      # @return [Float] mL per psi
      def self.air_capacitance(air, pressure_psi)
        absolute = pressure_psi + Units::ATMOSPHERE_PSI
        absolute = 1.0 if absolute < 1.0
        HOSE_VOLUME_ML * air * Units::ATMOSPHERE_PSI / (absolute * absolute)
      end

      # Water stored above an empty, unpressurised volume, mL: the law that #capacitance is the slope of.
      def self.hose_water_ml(air, pressure_psi)
        HOSE_VOLUME_ML * (1.0 - air * Units::ATMOSPHERE_PSI / (pressure_psi + Units::ATMOSPHERE_PSI))
      end
    end
  end
end
