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
    end
  end
end
