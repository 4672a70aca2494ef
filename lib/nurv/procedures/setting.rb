# frozen_string_literal: true

module Nurv
  module Procedures
    # A point on which adopted procedures differ, and the ways there are. The first is the usual one.
    class Setting
      # A way: `id` [Symbol]; `label` [String]; `data` [Hash] what it changes in the procedure's data
      Choice = Struct.new(:id, :label, :data, keyword_init: true)

      attr_reader :id, :label, :choices

      # @param data [Hash] of the shape Shapes::Setting
      def initialize(data)
        @id = data[:id].to_sym
        @label = data[:label]
        @choices =
          data[:choices]
            .map { |one| Choice.new(id: one[:id].to_sym, label: one[:label], data: one) }
            .freeze
        freeze
      end

      # @return [Choice]
      def usual = choices.first

      # @param id [Symbol, String, nil]
      # @return [Choice] that one; the usual one without an id, or with one that there is none of
      def choice(id) = choices.find { |one| one.id.to_s == id.to_s } || usual
    end
  end
end
