# frozen_string_literal: true

module Nurv
  module Procedures
    # A step's conditions and acts without a thing that is not used: where it is named, alone or among others, and what
    # stands in its place.
    class Without
      # What a step says in words is changed in words.
      WORDS = %i[id title why aid missed mistakes part].freeze
      private_constant :WORDS

      # @param names [Array<String>] things that are not used
      # @param others [Hash{Symbol => String}] name => what stands in its place
      def initialize(names, others)
        @names = names.map(&:to_s)
        @others = others.to_h { |name, other| [name.to_s, other] }
      end

      # @param step [Hash] of the shape Shapes::Step
      # @return [Hash] clauses and acts that name nothing else are gone
      def of(step)
        return step if @names.empty? && @others.empty?

        step.to_h { |key, value| [key, WORDS.include?(key) ? value : kept(value)] }
      end

      private

      GONE = Object.new.freeze
      private_constant :GONE

      # @return [Object] the same; GONE for what the thing was all of
      def kept(value)
        case value
        when Hash then kept_pairs(value)
        when Array then value.empty? ? value : rest(value)
        else @others.fetch(value.to_s, value)
        end
      end

      def rest(list) =
        list.reject { |one| @names.include?(one.to_s) }.map { |one| kept(one) }.reject { |one| GONE.equal?(one) }

      # An exception that no longer is one goes alone; any other part that goes takes the whole with it.
      def kept_pairs(hash)
        pairs = hash.filter_map { |key, value| [renamed(key), kept(value)] unless @names.include?(key.to_s) }
        return GONE if pairs.empty? && hash.any?
        return GONE if pairs.any? { |key, value| gone?(value) && key != :unless }

        pairs.reject { |_, value| gone?(value) }.to_h
      end

      def renamed(key) = @others.fetch(key.to_s, key).to_sym

      def gone?(value) = GONE.equal?(value) || value == []
    end
  end
end
