# frozen_string_literal: true

module Nurv
  module Scenarios
    # A station with its numbers fixed by a seed. Same station, same seed, same bench, for ever.
    class Variant
      attr_reader :station, :seed, :line, :edge_settings, :phases, :zero_error_psid

      # @param station [Station]
      # @param seed [Integer]
      def initialize(station, seed)
        @station = station
        @seed = seed
        @random = Random.new(seed)
        @phases = Array.new(3) { @random.rand * 2.0 * Math::PI }.freeze
        @line = station.line.reject { |_, value| value.is_a?(String) }.transform_values { |value| draw(value) }.freeze
        @edge_settings = settings.freeze
        @zero_error_psid = draw(station.kit_state[:zero_error_psid] || 0.0)
        @random = nil
        freeze
      end

      def pressure_psi = line.fetch(:pressure_psi)

      def swing_psi = line.fetch(:swing_psi, 0.0)

      def back_pressure_psi = station.faults.filter_map { |item| item.fault.back_pressure_psi }.first || line[:back_pressure_psi]

      # Opening 0..1 of the taps downstream when the tester arrives.
      def demand = station.faults.filter_map { |item| item.fault.demand }.first || line.fetch(:demand, 0.0)

      def setting(edge, name, default = nil) = edge_settings.fetch(edge, {}).fetch(name, default)

      private

      # A number as it stands, or drawn to 0.1 from {from, to}.
      def draw(value)
        return value.to_f unless value.is_a?(Hash)

        (value[:from] + @random.rand * (value[:to] - value[:from])).round(1)
      end

      def settings
        result = Hash.new { |hash, key| hash[key] = {} }
        station.springs_psid.each { |edge, value| result[edge][:spring_psid] = draw(value) }
        station.openings_psid.each do |edge, value|
          result[edge][(edge == :air_inlet) ? :opening_psi : :opening_psid] = draw(value)
        end
        station.faults.each do |item|
          edge, values = item.fault.settings(station.assembly.id, item.severity)
          result[edge].merge!(values)
        end
        result.default = nil
        result.transform_values(&:freeze)
      end
    end
  end
end
