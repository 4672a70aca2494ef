# frozen_string_literal: true

module Nurv
  module Scenarios
    # Something wrong that is seen and not measured, and whether it forbids the test.
    class Finding
      attr_reader :id, :at, :label, :text

      def initialize(data)
        @id = data[:id].to_sym
        @at = data[:at].to_sym
        @label = data[:label]
        @text = data[:text]
        @stops = data[:stops]
        freeze
      end

      def stops? = @stops
    end
  end
end
