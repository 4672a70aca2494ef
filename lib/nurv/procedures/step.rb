# frozen_string_literal: true

module Nurv
  module Procedures
    # One step as data: how it is recognised, what must be true, what it is worth, and how an expert does it.
    class Step
      attr_reader :id,
        :title,
        :points,
        :why,
        :aid,
        :mistakes,
        :after,
        :before,
        :matched,
        :tried,
        :situation,
        :must,
        :at_end,
        :missed,
        :follows_from,
        :excused_by,
        :event,
        :only,
        :skip,
        :acts

      # @param data [Hash] of the shape Shapes::Step
      def initialize(data)
        @id = data[:id].to_sym
        @title = data[:title]
        @points = data[:points]
        @critical = data.fetch(:critical, false)
        @optional = data.fetch(:optional, false)
        @part = data.fetch(:part, "test").to_sym
        @why = data[:why]
        @aid = data[:aid]
        @mistakes = data.fetch(:mistakes, [])
        @after = names(data[:after])
        @before = data.fetch(:before, [])
        @matched = data[:matched]
        @tried = data[:tried]
        @situation = data[:situation]
        @must = data.fetch(:must, [])
        @at_end = data.fetch(:at_end, [])
        @missed = data[:missed].to_sym
        @named_by = data.fetch(:named_by, {}).transform_values(&:to_sym)
        @excused_by = names(data[:excused_by])
        @follows_from = names(data[:follows_from])
        @event = data[:event]&.to_sym
        @only = names(data[:only])
        @skip = names(data[:skip])
        @acts = data.fetch(:do, [])
        freeze
      end

      # @param remark [Remark] what was found instead
      # @return [Symbol] the mistake by which it is missed: by the control that stood otherwise, by what is said, or as
      #   usual
      def missed_as(remark) = @named_by.values_at(remark.values[:control], remark.id).compact.first || missed

      # @return [Array<Symbol>] mistakes by which it may be missed as well
      def other_names = @named_by.values

      # @return [Boolean] left out, it fails on its own where the policy says so
      def critical? = @critical

      # Left out, it costs nothing.
      def optional? = @optional

      # Preliminaries: done once, however often one tests.
      def opening? = @part == :opening

      # What ends the visit, not the test.
      def closing? = @part == :closing

      # @return [Boolean] an authority's own: something that no needle shows, and that one says is done
      def own? = id.start_with?(Adoption::OWN)

      # @return [Boolean] nothing but the tester's word says that it was done
      def declared? = matched.any? { |clause| clause.key?(:declared) }

      # @return [Boolean] test cocks run free in it
      def flushes? = matched.any? { |clause| clause.key?(:flushed) || clause.key?(:flushed_anyhow) }

      # @return [Boolean] everything comes off the assembly in it
      def takes_off? = matched.any? { |clause| clause.key?(:hoses_off) }

      # @param flags [Array<Symbol>] what the tester has found out so far
      def called_for?(flags) = (only - flags).empty? && (skip & flags).empty?

      private

      def names(list) = (list || []).map(&:to_sym).freeze
    end
  end
end
