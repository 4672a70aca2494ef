# frozen_string_literal: true

module Nurv
  module Hydraulics
    # A hose as the solver sees it: a node that may hold air, the passage at its far end, and the loop it hangs in.
    class Hose
      # Water through the hose sweeps its air out: dα = −0.5·α·q·dt / 45 mL. Estimate: one hose volume takes
      # out about 40 % of what air is left.
      SWEEP = 0.5

      attr_reader :id, :node, :far_passage, :loop_in

      # @param id [Symbol] :high, :low, :bypass
      # @param node [Integer]
      # @param far_passage [Symbol, nil] id of the passage at the end away from the kit
      # @param loop_in [Float] height of the loop in which trapped air shifts the gauge
      def initialize(id, node, far_passage:, loop_in: 0.0)
        @id = id
        @node = node
        @far_passage = far_passage
        @loop_in = loop_in
        freeze
      end

      # @param through_ml_s [Float] flow in at one end and out at the other
      def self.swept(air, through_ml_s, dt) = air * Math.exp(-SWEEP * through_ml_s * dt / Node::HOSE_VOLUME_ML)
    end
  end
end
