# frozen_string_literal: true

module Nurv
  module Scenarios
    # Something that can be done to a part of an assembly.
    class Repair
      attr_reader :id, :label, :parts

      def initialize(data)
        @id = data[:id].to_sym
        @label = data[:label]
        @parts = data[:parts].map(&:to_sym).freeze
        freeze
      end

      def fits?(part) = parts.include?(part)

      # @return [String] like "CV1: fit a new spring"
      def on(part) = "#{Bench::Words.part(part.to_sym)}: #{label.downcase}"

      # @param list [Array<Array(String, String)>] parts and ways, as a truth has them
      # @return [String] in words
      def self.words(list, catalog = Catalog.default) =
        list.map { |part, way| catalog.repairs.fetch(way.to_sym).on(part) }.join("; ")
    end
  end
end
