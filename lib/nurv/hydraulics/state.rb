# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Everything the water remembers at one moment. Pure numbers, so it can be stored, compared and sent.
    #
    # pressures          Array<Float> psi per node, in the network's order
    # relief_position    Float 0..1, the relief valve's opening (it has play, so it has a memory)
    # air_inlet_fraction Float 0..1, air_inlet_target 0.0 or 1.0
    # air_present        Array<Boolean> per node: a free surface exists in it
    # hose_air           Array<Float> per hose: air trapped in it, as a share of it at atmospheric pressure
    # hose_gap           Array<Float> per hose: share of it that stands empty behind an opening to air
    # hose_late_psi      Array<Float> per hose: pressure of the part of its air that yields late
    # needle_psid        Float what the gauge shows, lag and zero error included
    # needle_speed       Float psid/s
    # kick_psid          Float what water stopped short leaves in the gauge for a moment, psid
    # shares             Array<Float> per traced node: see Tracer
    State = Struct.new(:time_s, :pressures, :relief_position, :air_inlet_fraction, :air_inlet_target,
      :air_present, :hose_air, :hose_gap, :hose_late_psi, :needle_psid, :needle_speed, :kick_psid, :shares,
      keyword_init: true) do
      # @return [State] the same but for these
      def with(**changes) = self.class.new(**to_h, **changes).freeze

      # What a state may leave unsaid: no gaps, air at the hose's own pressure, a needle at rest, no water gone back.
      #
      # @param network [Network]
      # @return [State]
      def completed(network)
        return self if complete?

        with(
          hose_gap: hose_gap || Array.new(network.hoses.size, 0.0).freeze,
          hose_late_psi: hose_late_psi || network.hoses.map { |hose| pressures[hose.node] }.freeze,
          needle_speed: needle_speed || 0.0,
          kick_psid: kick_psid || 0.0,
          shares: shares || Tracer::CLEAN
        )
      end

      # @return [Boolean] it leaves nothing unsaid
      def complete? = !(hose_gap && hose_late_psi && needle_speed && kick_psid && shares).nil?

      # @param hash [Hash] as .to_h gave it, keys as text or symbols
      # @return [State] its lists frozen as those of a state that was worked out: the integrator goes on in place with
      #   a list that is not, and the same water would run otherwise
      def self.from_h(hash) = new(**hash.transform_keys(&:to_sym).transform_values(&:freeze)).freeze
    end
  end
end
