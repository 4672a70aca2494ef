# frozen_string_literal: true

module Nurv
  module Hydraulics
    # A hose as the solver sees it: a node that may hold air, the passage at its far end, and how it hangs.
    #
    # Two airs are told apart. Bubbles (`hose_air`, share of the hose at atmospheric pressure) are swept along by water
    # and squeezed by pressure. A gap (`hose_gap`, share of the hose) stands at the kit's end behind an opening to air
    # while the water in the hose falls below it; it comes and goes as the water's level does, as in a tube.
    class Hose
      # Water through the hose sweeps its air out: dα = −0.5·α·q·dt / 45 mL. Estimate: one hose volume takes
      # out about 40 % of what air is left.
      SWEEP = 0.5
      # Slow water rises as a plug and pushes the air out ahead of it, all but a residue that is carried along as
      # bubbles; fast water runs through it. Half and half at PLUG_ML_S. Estimate: a trickle of 4 mL/s fills a hose in
      # some 13 s.
      PLUG_ML_S = 10.0
      RESIDUE = 0.05
      # Volume of a hose, mL. Estimate: six feet of 1/4 in hose.
      VOLUME_ML = 45.0

      attr_reader :id, :node, :far_passage, :column_psi, :top_psi

      # @param id [Symbol] :high, :low, :bypass
      # @param node [Integer]
      # @param far_passage [Symbol, nil] id of the passage at the end away from the kit
      # @param column_in [Float] height of the column of water that it loses when air fills it: its loop, and its rise
      #   from test cock to kit; 0 for one that hangs free
      # @param top_in [Float] height of its kit end above the pipe's centre line
      def initialize(id, node, far_passage:, column_in: 0.0, top_in: 0.0)
        @id = id
        @node = node
        @far_passage = far_passage
        @column_psi = Units.head_psi(column_in)
        @top_psi = Units.head_psi(top_in)
        freeze
      end

      # @return [Boolean] whether its water can fall away from an opening at the kit
      def column? = @column_psi > 0.0

      # @return [Float] mL of water per psi while a gap stands in it
      def gap_capacitance = VOLUME_ML / @column_psi

      # dα = −(0.5·α + p)·q·dt / 45 mL down to the residue, then without p; p = 1 / (1 + (q / 10 mL/s)²).
      #
      # @param through_ml_s [Float] flow in at one end and out at the other
      # @return [Float] air that is left, 0..1
      def self.swept(air, through_ml_s, dt)
        volumes = through_ml_s * dt / VOLUME_ML
        return air * Math.exp(-SWEEP * volumes) if air <= RESIDUE

        pushed = plug(through_ml_s) / SWEEP
        left = (air + pushed) * Math.exp(-SWEEP * volumes) - pushed
        return left if left >= RESIDUE

        # What is beyond the moment at which the residue was reached goes by mixing alone.
        until_residue = Math.log((air + pushed) / (RESIDUE + pushed)) / SWEEP
        RESIDUE * Math.exp(-SWEEP * (volumes - until_residue))
      end

      # @return [Float] 0..1
      def self.plug(through_ml_s) = 1.0 / (1.0 + (through_ml_s / PLUG_ML_S)**2)
      private_class_method :plug

      # Share of what leaves a hose that is air and no water.
      #
      # @param air [Float] 0..1
      # @param pressure_psi [Float] in the hose
      def self.air_share(air, pressure_psi) = SWEEP * Air.volume_ml(air, pressure_psi)

      # Water in a hose, mL: what its airs leave room for.
      #
      # @param late_psi [Float] pressure of the late part of its air
      def self.water_ml(air, gap, pressure_psi, late_psi)
        free = VOLUME_ML * air
        VOLUME_ML * (1.0 - gap) - Air.volume_ml(free * (1.0 - Air::LATE), pressure_psi) -
          Air.volume_ml(free * Air::LATE, late_psi)
      end
    end
  end
end
