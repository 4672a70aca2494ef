# frozen_string_literal: true

module Nurv
  module Equipment
    # Something that can be done to a part of an assembly.
    class Repair
      attr_reader :id, :label, :parts

      # @param data [Hash] as in data/faults/repairs.yml
      def initialize(data)
        @id = data[:id].to_sym
        @label = data[:label]
        @parts = data[:parts].map(&:to_sym).freeze
        freeze
      end

      # @param part [Symbol] of an assembly
      # @return [Boolean] whether one does that to it
      def fits?(part) = parts.include?(part)
    end
  end
end
