# frozen_string_literal: true

module Nurv
  module Equipment
    # A kind of fault: what is wrong with which component, and how hard it bites at each severity.
    class Fault
      SEVERITIES = %i[light moderate gross].freeze

      attr_reader :id, :component, :reason, :label, :sign, :demand, :back_pressure_psi, :mended_by, :sets

      # @param data [Hash] as in data/faults/faults.yml
      def initialize(data)
        @id = data[:id].to_sym
        @component = data[:component].to_sym
        @reason = data[:reason].to_sym
        @label = data[:label]
        @sign = data[:sign]
        @signs = data.fetch(:signs, {})
        @sets = data[:sets] || {}
        @demand = data[:demand]
        @back_pressure_psi = data[:back_pressure_psi]&.to_f
        @mended_by = (data[:mended_by] || []).map(&:to_sym).freeze
        freeze
      end

      # @param assembly_id [Symbol]
      # @return [String] what shows there
      def sign_at(assembly_id) = @signs.fetch(assembly_id, sign)

      # @param assembly_id [Symbol]
      # @return [Boolean] whether such an assembly can have it
      def applies_to?(assembly_id) = @sets.key?(assembly_id)

      # @return [Array(Symbol, Hash)] edge of the network, and the settings that change there
      def settings(assembly_id, severity)
        set = @sets.fetch(assembly_id)
        values = set.except(:edge).transform_values { |by_severity| by_severity.fetch(severity) }
        [set[:edge].to_sym, values]
      end
    end
  end
end
