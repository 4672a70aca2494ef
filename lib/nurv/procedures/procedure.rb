# frozen_string_literal: true

module Nurv
  module Procedures
    # A way of testing an assembly, as data: steps in partial order, what is recorded, and what follows from what was seen.
    class Procedure
      attr_reader :id, :label, :assembly, :kits, :summary, :steps, :items, :conclusions, :buffer, :steady, :bleed_air_share

      def initialize(data)
        @id = data[:id].to_sym
        @label = data[:label]
        @assembly = data[:assembly].to_sym
        @kits = data[:kits].map(&:to_sym)
        @summary = data[:summary]
        @steady = data[:steady]
        @bleed_air_share = data[:bleed_air_share]
        @items = data[:items].to_h { |item| [item[:id].to_sym, Item.new(item)] }.freeze
        @steps = data[:steps].map { |step| Step.new(with_shared(step)) }.freeze
        @conclusions = data[:conclusions]
        @buffer = data[:buffer]
        freeze
      end

      def step(id) = steps.find { |step| step.id == id }

      # @param name [String] like "supply:fluctuates"
      def concludes?(name) = conclusions.any? { |conclusion| conclusion[:says] == name }

      def title = "#{id.to_s.upcase} · #{label}"

      # RV opening below CV1 differential by this much, psid; nil if either is not recorded.
      def buffer_psid(values)
        return unless buffer

        minus = Item.number(values[buffer[:minus].to_sym])
        of = buffer[:of].filter_map { |id| Item.number(values[id.to_sym]) }.first
        (of - minus).round(1) if of && minus
      end

      private

      def with_shared(step)
        return step unless step[:use]

        Catalog.default.shared_steps.fetch(step[:use].to_sym).merge(step.except(:use))
      end
    end
  end
end
