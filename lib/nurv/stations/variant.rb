# frozen_string_literal: true

module Nurv
  module Stations
    # A station with its numbers and faults fixed by a seed. Same station, same seed, same bench, for ever.
    class Variant
      attr_reader :station, :seed, :edge_settings, :phases

      # @param station [Station] may hold ranges and faults to choose from; they are drawn here
      # @param seed [Integer]
      def initialize(station, seed)
        @base = station
        @seed = seed
        @station = Draw.new(seed).station(station)
        @phases = Array.new(3) { |index| Draw.new(seed).share("phase #{index}") * 2.0 * Math::PI }.freeze
        @edge_settings = settings.freeze
        freeze
      end

      # The same bench after parts were mended, or trouble was put in by an instructor.
      #
      # @param changes [Array<Hash>] as kept in a bench's state
      # @return [Variant]
      def after(changes) = changes.empty? ? self : Variant.new(station.changed(changes), seed)

      # @return [Hash{Symbol => Object}] pressure_psi, swing_psi, demand and shutoffs as found
      def line = station.line

      # @return [Float] of the supply
      def pressure_psi = line.fetch(:pressure_psi).to_f

      # @return [Float] psi either way by which the supply swings
      def swing_psi = line.fetch(:swing_psi, 0.0).to_f

      # @return [Float] psid that the gauge shows of nothing
      def zero_error_psid = station.zero_error_psid

      # @return [Float, nil] psi that pushes back from downstream; nil: nothing does
      def back_pressure_psi =
        station.faults.filter_map { |item| item.fault.back_pressure_psi }.first || line[:back_pressure_psi]&.to_f

      # Opening 0..1 of the taps downstream when the tester arrives.
      def demand = station.faults.filter_map { |item| item.fault.demand }.first || line.fetch(:demand, 0.0).to_f

      # @param edge [Symbol] of the network
      # @param name [Symbol] like :spring_psid or :leak_k
      # @return [Float, Boolean, nil] as station and faults have it; the default where they say nothing
      def setting(edge, name, default = nil) = edge_settings.fetch(edge, {}).fetch(name, default)

      private

      def settings
        result = Hash.new { |hash, key| hash[key] = {} }
        station.springs_psid.each { |edge, value| result[edge][:spring_psid] = value.to_f }
        station.openings_psid.each do |edge, value|
          result[edge][(edge == :air_inlet) ? :opening_psi : :opening_psid] = value.to_f
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
