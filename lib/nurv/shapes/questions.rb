# frozen_string_literal: true

module Nurv
  module Shapes
    # What a schema may ask of a value, besides what dry-schema asks itself. Each has words under `should_be_…` in
    # data/words, and a line in questions.yml.
    module Questions
      include Dry::Logic::Predicates

      # Longest text, longest list and longest label, characters or entries.
      MOST = 400
      LABEL = 80
      SEVERITIES = %w[light moderate gross].freeze
      NAME = /\A[\w-]{1,80}\z/

      # Questions of a list or mapping: which of the two, and what they ask of each entry.
      OF_EACH = {
        drawn_by_name: [Hash, :drawn],
        numbers_by_name: [Hash, :within],
        names_by_name: [Hash, :name],
        names: [Array, :name],
        lines: [Array, :words]
      }.freeze

      module_function

      # An id, as files and acts have it.
      def name?(input) = input.is_a?(String) && input.match?(NAME)

      # Something to read.
      def words?(input) = input.is_a?(String) && !input.strip.empty? && input.size <= MOST

      # Something to read, or nothing.
      def note?(input) = input.is_a?(String) && input.size <= MOST

      # Text, or a number that was written without quotes.
      def plain?(input) =
        (input.is_a?(String) || (input.is_a?(Numeric) && input.to_f.finite?)) && input.to_s.size <= LABEL

      # Such text, and something in it.
      def label?(input) = plain?(input) && !input.to_s.strip.empty?

      # @param range [Range] of numbers
      def within?(range, input) = input.is_a?(Numeric) && input.to_f.finite? && range.cover?(input)

      # A number, or from and to for a variant to draw between.
      def drawn?(range, input)
        return within?(range, input) unless input.is_a?(Hash)

        input.keys.sort == %i[from to] && input.values.all? { |edge| within?(range, edge) } &&
          input[:from] <= input[:to]
      end

      # Names with a number, or from and to, for each.
      def drawn_by_name?(range, input) =
        input.is_a?(Hash) && input.size <= MOST && input.values.all? { |value| drawn?(range, value) }

      # Names with a number for each.
      def numbers_by_name?(range, input) =
        input.is_a?(Hash) && input.size <= MOST && input.values.all? { |value| within?(range, value) }

      # @param list [Array<String>] what there is to choose from
      def one_of?(list, input) = list.include?(input)

      # @param list [Array<String>] what there is to choose from
      def some_of?(list, input) = input.is_a?(Array) && input.all? { |item| list.include?(item) }

      # A list of ids; none is a list too.
      def names?(input) = input.is_a?(Array) && input.size <= MOST && input.all? { |item| name?(item) }

      # A list of things to read.
      def lines?(input) = input.is_a?(Array) && input.size <= MOST && input.all? { |item| words?(item) }

      def yes_or_no?(input) = input == true || input == false

      def whole?(range, input) = input.is_a?(Integer) && range.cover?(input)

      # A day as ISO 8601 has it.
      def date?(input)
        input.is_a?(String) && !!Date.iso8601(input)
      rescue ArgumentError
        false
      end

      # A moment as ISO 8601 has it.
      def moment?(input)
        input.is_a?(String) && !!DateTime.iso8601(input)
      rescue ArgumentError
        false
      end

      # The text of a file inside a file.
      def body?(input) = input.is_a?(String) && input.size <= Facts::MOST_BYTES * 4

      # Names with a name for each.
      def names_by_name?(input) = input.is_a?(Hash) && input.size <= MOST && input.values.all? { |item| name?(item) }

      # Names with anything for each: whoever looks them up knows what belongs there.
      def by_name?(input) = input.is_a?(Hash) && input.size <= MOST

      # A list of such.
      def list_by_name?(input) =
        input.is_a?(Array) && input.size <= MOST && input.all? { |item| item.is_a?(Hash) && item.any? }

      # @param arguments [Array] of a question, as the schema has them
      # @return [Hash{Symbol => Object}] what a remark says of them
      def values(arguments)
        case arguments.first
        when Range then {least: arguments.first.begin, most: arguments.first.end}
        when Array then {choices: arguments.first}
        else {}
        end
      end
    end
  end
end
