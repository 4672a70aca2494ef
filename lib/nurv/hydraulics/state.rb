# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Everything the water remembers at one moment. Pure numbers, so it can be stored, compared and sent.
    #
    # pressures          Array<Float> psi per node, in the network's order
    # relief_position    Float 0..1, the relief valve's opening (it has play, so it has a memory)
    # air_inlet_fraction Float 0..1, air_inlet_target 0.0 or 1.0
    # air_present        Array<Boolean> per node: a free surface exists in it
    # hose_air           Array<Float> per hose: fraction of it filled with air
    # needle_psid        Float what the gauge shows, lag and zero error included
    State = Struct.new(:time_s, :pressures, :relief_position, :air_inlet_fraction, :air_inlet_target,
      :air_present, :hose_air, :needle_psid, keyword_init: true) do
      # @return [State] the same but for these
      def with(**changes) = self.class.new(**to_h, **changes).freeze

      # @param hash [Hash] as .to_h gave it, keys as text or symbols
      # @return [State]
      def self.from_h(hash) = new(**hash.transform_keys(&:to_sym)).freeze
    end
  end
end
