# frozen_string_literal: true

module Nurv
  module Bench
    # The bench as the tester finds it: assembly in service, kit hanging beside it, hoses empty, nothing told or seen.
    class Opening
      # Long enough for a leak or a spitting relief valve to have found its level.
      SETTLE_S = 60.0
      # A main that swings does so from this long before the tester comes: what it swings about is found without it,
      # which costs a sixth.
      SWING_S = 20.0
      # How a digital face is found, as a station file says it: running where it says nothing.
      POWER = {nil => :on, "running" => :on, "standby" => :standby, "switched_off" => :off}.freeze

      # @param variant [Stations::Variant]
      def initialize(variant)
        @variant = variant
        @station = variant.station
      end

      # @return [State] at time 0
      def state
        dry = bare_state
        swinging = @variant.swing_psi.positive?
        network = Plumbing.new(@variant, dry, still: swinging).network
        still = Hydraulics::Trajectory.new(network, first_water(network)).state_at(swinging ? -SWING_S : 0.0)
        return dry.with(water: still) unless swinging

        dry.with(water: Hydraulics::Trajectory.new(Plumbing.new(@variant, dry).network, still).state_at(0.0))
      end

      private

      def bare_state
        State.new(
          time_s: 0.0,
          water: nil,
          controls: controls.freeze,
          hose_ends: hose_ends.freeze,
          fittings: {}.freeze,
          gauge_in: @station.kit_state.fetch(:height_in, 0.0).to_f,
          canopy: :on,
          capped: (@station.capped? ? @station.assembly.test_cocks.keys : []).freeze,
          adapted: [].freeze,
          tightened: [].freeze,
          captured_psid: nil,
          captured_s: nil,
          memories: stored.freeze,
          power: POWER.fetch(@station.kit_state[:power]),
          shows_s: 0.0,
          touched_s: 0.0,
          lit: false,
          watching: :gauge,
          watched_s: 0.0,
          looked: [],
          told: [],
          findings: [],
          found_as: {}.freeze,
          declared: [].freeze,
          notebook: [],
          report: {}.freeze,
          submitted: false,
          flushed: [].freeze,
          running: {}.freeze,
          clogged: [].freeze,
          turned_hoses: (@station.kit_state[:strainer_at_kit] || []).map(&:to_sym).freeze,
          tags: {}.freeze,
          changes: [].freeze
        ).freeze
      end

      def controls
        shutoffs =
          @station.assembly.shutoff_valves.to_h { |id| [id, ramp((@station.line[id] == "closed") ? 0.0 : 1.0)] }
        cocks = @station.assembly.test_cocks.keys.to_h { |id| [id, ramp(0.0)] }
        cracked = (@station.kit_state[:cracked_open] || {}).to_h { |id, turns| [id.to_sym, turns.to_f] }
        valves = @station.kit.valves.keys.to_h { |id| [id, ramp(cracked.fetch(id, 0.0))] }
        shutoffs.merge(
          cocks,
          valves,
          tee_needle: ramp(0.0),
          demand: ramp(@variant.demand),
          downstream_tap: ramp(0.0),
          supply_pressure: ramp(@variant.pressure_psi)
        )
      end

      # What somebody before left in a digital kit.
      def stored = (@station.kit_state[:stored] || {}).transform_values { |psid| [psid.to_f, nil].freeze }

      def ramp(position) = Hydraulics::Ramp.at(position)

      def hose_ends
        @station
          .kit
          .hoses
          .values
          .each_with_object({}) do |hose, ends|
            ends[hose.id] = :free
            ends[:"#{hose.id}_near"] = :kit if hose.detachable
          end
      end

      # Each volume below the one before it by the spring between them, so that settling starts near the end.
      def first_water(network)
        pressures = network.nodes.map { |node| first_pressure(node.id) }
        Hydraulics::State.new(
          time_s: -SETTLE_S,
          pressures: pressures.freeze,
          relief_position: 0.0,
          air_inlet_fraction: 0.0,
          air_inlet_target: 0.0,
          air_present: Array.new(pressures.size, false).freeze,
          hose_air: Array.new(network.hoses.size, 1.0).freeze,
          needle_psid: @variant.zero_error_psid
        ).freeze
      end

      def first_pressure(node)
        supply = @variant.pressure_psi
        after_first = supply - @variant.setting(:check_valve_1, :spring_psid, 0.0)
        after_second = after_first - @variant.setting(:check_valve_2, :spring_psid, 0.0)
        case node
        when :supply, :inlet
          supply
        when :zone, :body
          after_first
        when :outlet, :downstream
          after_second
        else
          Units.head_psi(@station.kit_state.fetch(:height_in, 0.0).to_f)
        end
      end
    end
  end
end
