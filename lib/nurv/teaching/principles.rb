# frozen_string_literal: true

module Nurv
  module Teaching
    # How an RP protects: the eight cases that are taught, to be predicted and then seen. What comes of each is read off
    # the network, and so are the words that explain it.
    class Principles
      BACK_PRESSURE_PSI = 85.0
      SUPPLY_PSI = 60.0
      SUCKING_PSI = -6.0
      # What a map of skills calls them all together.
      SKILL = :how_an_rp_protects
      # Two pressures this near are near, psi.
      NEAR_PSI = 4.0

      # id [Symbol]; condition [Lab::Condition]
      Case = Struct.new(:id, :condition, keyword_init: true)

      # @return [Array<Case>] back pressure and back-siphonage, either check tight or fouled
      def self.cases
        %w[tight fouled].product(%w[tight fouled]).flat_map { |first, second| pair(first, second) }
          .sort_by { |one| one.id.start_with?("back_pressure") ? 0 : 1 }
      end

      def self.pair(first, second)
        checks = {demand: false, check_valve_1: first, check_valve_2: second, relief_valve: "sound"}
        [
          Case.new(
            id: :"back_pressure_#{first}_#{second}",
            condition: Lab::Condition.new(supply_psi: SUPPLY_PSI, downstream_psi: BACK_PRESSURE_PSI, **checks)
          ),
          Case.new(
            id: :"back_siphonage_#{first}_#{second}",
            condition: Lab::Condition.new(supply_psi: SUCKING_PSI, **checks)
          )
        ]
      end
      private_class_method :pair

      # @param catalog [Catalog]
      def initialize(catalog)
        @catalog = catalog
        @outcomes = {}
        @lock = Mutex.new
      end

      # @param one [Case]
      # @return [Lab::Outcome] the same every time
      def outcome(one) = @lock.synchronize { @outcomes[one.id] ||= Lab.new(one.condition, @catalog).outcome }

      # @param one [Case]
      # @param predicted [Hash{Symbol => String}] relief, zone and protected, as Lab::Outcome#words says them
      # @return [Float] 0..100
      def score(one, predicted)
        happened = outcome(one).words
        (happened.count { |name, word| predicted[name].to_s == word } * 100.0 / happened.size).round(1)
      end

      # Why it comes to that, from what the water does there.
      #
      # @param one [Case]
      # @return [Array<Remark>]
      def why(one)
        seen = outcome(one)
        [
          *into_zone(seen),
          relief(seen),
          (Remark.new(:principle_close) if seen.check_valve_1 == :backward || close?(one, seen)),
          Remark.new(seen.protected? ? :principle_protected : :principle_crossed, ml: seen.crossed_ml.round(1))
        ].compact
      end

      private

      # Whatever passes a check is said; that both hold, only where nothing passes either.
      #
      # @return [Array<Remark>]
      def into_zone(seen)
        passing = [
          (Remark.new(:principle_back_past_2) if seen.check_valve_2 == :backward),
          (through_1(seen) if seen.check_valve_1 == :forward),
          (Remark.new(:principle_air_past_1) if seen.check_valve_1 == :air)
        ].compact
        return passing if passing.any?

        [Remark.new(seen.air_in_zone ? :principle_drained : :principle_both_shut)]
      end

      def through_1(seen) = Remark.new(:principle_through_1, psid: seen.inlet_psi - seen.zone_psi)

      def relief(seen)
        return Remark.new(:principle_air_gap) if seen.air_in_zone && seen.relief == :dry
        return Remark.new(:principle_air_and_water) if seen.air_in_zone
        return Remark.new(:principle_relief_shut) if seen.relief == :dry

        Remark.new(:principle_relief_runs, psid: seen.inlet_psi - seen.zone_psi)
      end

      # Schools say that zone and supply are equal then; the relief valve opens a little before.
      def close?(one, seen) =
        one.condition.check_valve_1 == "fouled" && !seen.air_in_zone && seen.inlet_psi - seen.zone_psi < NEAR_PSI
    end
  end
end
