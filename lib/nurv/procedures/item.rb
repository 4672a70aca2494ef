# frozen_string_literal: true

module Nurv
  module Procedures
    # One thing to be recorded in a report: a reading with its limit, or an observation with its choices.
    class Item
      attr_reader :id, :component, :label, :unit, :at_least, :choices, :gives_way_to, :step, :signs, :at_rest,
        :called_off_by

      # @param data [Hash] of the shape Shapes::Item
      def initialize(data)
        @id = data[:id].to_sym
        @component = data[:component].to_sym
        @label = data[:label]
        @unit = data[:unit]
        @at_least = data[:at_least]
        @choices = data.fetch(:choices, {}).to_h { |words, result| [words.to_s, result.to_sym] }.freeze
        @gives_way_to = data[:gives_way_to]&.to_sym
        @step = data[:step]&.to_sym
        @signs = data.fetch(:signs, {}).to_h { |words, signs| [words.to_s, signs] }.freeze
        @at_rest = data[:at_rest]
        @called_off_by = data.fetch(:called_off_by, {})
        @optional = data.fetch(:optional, false)
        freeze
      end

      # @return [Boolean] a number with a unit, not words to choose from
      def reading? = !unit.nil?

      # @return [Boolean] whether it may be left empty
      def optional? = @optional

      # Read off the plain gauge, not the differential one.
      def line_pressure? = unit == "psi"

      # Whether it says pass or fail of its component; a line pressure does not.
      def judges? = !at_least.nil? || choices.value?(:fail)

      # @param value [Object] as recorded
      # @return [Float, nil] psid to a tenth; nil if it is words or nothing
      def self.number(value) = Written.psid(value)

      # @param value [String, nil] as recorded
      # @return [Symbol] :pass, :fail, or :none when it decides nothing
      def result(value)
        return :none if value.to_s.strip.empty?
        return choices[value] if choices.key?(value)

        number = Item.number(value)
        return :none unless number && at_least

        (number >= at_least) ? :pass : :fail
      end
    end
  end
end
