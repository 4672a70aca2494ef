# frozen_string_literal: true

module Nurv
  module Stations
    # Something wrong that is seen and not measured, and whether it forbids the test.
    class Defect
      attr_reader :id, :at, :label, :text

      # @param data [Hash] as in data/faults/findings.yml
      def initialize(data)
        @id = data[:id].to_sym
        @at = data[:at].to_sym
        @label = data[:label]
        @text = data[:text]
        @stops = data[:stops]
        freeze
      end

      # @return [Boolean] whether it forbids the test
      def stops? = @stops
    end
  end
end
