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

      attr_reader :id, :capacitance, :tolerance_scale, :free_surface, :pocket_ml

      # @param id [Symbol]
      # @param capacitance [Float] mL of water per psi
      # @param tolerance_scale [Float] > 1 lets the integrator be less careful with a tiny volume
      # @param free_surface [FreeSurface, nil]
      # @param hose [Boolean] may hold trapped air
      # @param pocket_ml [Float] air that always stays under a bonnet, mL at atmospheric pressure
      def initialize(id, capacitance, tolerance_scale: 1.0, free_surface: nil, hose: false, pocket_ml: 0.0)
        @id = id
        @capacitance = Float(capacitance)
        @tolerance_scale = tolerance_scale
        @free_surface = free_surface
        @hose = hose
        @pocket_ml = Float(pocket_ml)
        freeze
      end

      # @return [Boolean] whether it may hold trapped air
      def hose? = @hose

      # @return [Boolean] whether air always stays in it
      def pocket? = @pocket_ml > 0.0

      # @return [Float] mL of water per psi that its pocket of air adds at this pressure
      def pocket_capacitance(pressure_psi) = Air.capacitance(@pocket_ml, pressure_psi)

      # Water held, mL, against what it holds at nought: walls, pocket and cavity, without any free surface.
      def held_ml(pressure_psi) =
        @capacitance * pressure_psi - Air.volume_ml(@pocket_ml, pressure_psi) + Cavity.held_ml(pressure_psi)
    end
  end
end
