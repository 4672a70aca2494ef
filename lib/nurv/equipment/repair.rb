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

      # @return [String] like "CV1: fit a new spring"
      def on(part) = "#{Words.part(part.to_sym)}: #{label.downcase}"

      # @param list [Array<Array(String, String)>] parts and ways, as a truth has them
      # @param repairs [Hash{Symbol => Repair}] those that are known
      # @return [String] in words
      def self.words(list, repairs) =
        list.map { |part, way| repairs.fetch(way.to_sym).on(part) }.join("; ")
    end
  end
end
