# frozen_string_literal: true

module Nurv
  module Reports
    # Pass or fail of each component and of the whole, from what was recorded and nothing else.
    class Verdict
      attr_reader :components

      # @param procedure [Procedures::Procedure]
      # @param values [Hash{Symbol => String}] item => as recorded
      def initialize(procedure, values)
        # An observation that says water was running: what passed then has not been tested.
        @void = procedure.items.values.any? { |item| item.result(values[item.id]) == :void }
        @components =
          procedure
            .items
            .values
            .select(&:judges?)
            .group_by(&:component)
            .transform_values { |items| component(items, values) }
        freeze
      end

      # @return [Symbol] :fail, :pass or :not_completed
      def overall
        return :fail if components.value?(:fail)

        components.value?(:not_tested) ? :not_completed : :pass
      end

      private

      def component(items, values)
        counted = items.reject { |item| item.gives_way_to && !values[item.gives_way_to].to_s.empty? }
        results = counted.map { |item| item.result(values[item.id]) }
        return :fail if results.include?(:fail)

        (results.include?(:pass) && !@void) ? :pass : :not_tested
      end
    end
  end
end
