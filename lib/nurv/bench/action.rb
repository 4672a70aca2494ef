# frozen_string_literal: true

module Nurv
  module Bench
    # One timed act, as it stands in a log: who did what to which thing, and when.
    class Action
      # Each kind with the fields it must have.
      KINDS = {
        turn: %i[valve to],
        connect: %i[hose to],
        disconnect: %i[hose],
        level: %i[to],
        fit: %i[fitting to],
        unfit: %i[fitting],
        canopy: %i[to],
        cap: %i[at to],
        adapt: %i[at to],
        tighten: %i[valve],
        look: %i[at],
        tell: %i[person topic],
        watch: %i[at],
        capture: [],
        release: [],
        keep: %i[as],
        forget: [],
        power: %i[to],
        light: %i[to],
        jot: %i[item value],
        fill: %i[field value],
        find: %i[finding],
        clean: %i[at],
        repair: %i[component action],
        inject: [],
        mark: %i[step as],
        declare: %i[what],
        swap_ends: %i[hose],
        tag: %i[at as],
        submit: []
      }.freeze
      # Acts that leave the water as it was. A canopy keeps rain and insects off, and no water in.
      PAPER = %i[
        look tell watch capture release keep forget power light jot fill find clean canopy cap adapt mark declare tag
        submit
      ].freeze
      # Acts that are an instructor's: putting trouble in, and marking by hand beside a real bench.
      INSTRUCTORS = %i[inject mark].freeze
      # What an act may say besides.
      ALSO = %i[speed over end fault severity swing_psi demand].freeze
      FIELDS = (KINDS.values.flatten | ALSO).freeze
      # Longest text of a field, characters; a day is longer than any test.
      LONGEST = 2_000
      LAST_MS = 86_400_000
      SPEEDS = {slow: 5.0, normal: 1.0, fast: 0.4}.freeze

      attr_reader :kind, :at_ms, :id, :fields

      # @param data [Hash] symbol keys; at least kind and at_ms
      # @raise [RefusedAction] if it is not an act this bench knows
      def initialize(data)
        @kind = data[:kind].to_s.to_sym
        @at_ms = data[:at_ms]
        @id = data[:id]
        @fields = data.except(:kind, :at_ms, :id, :seq).freeze
        check
        freeze
      end

      # @param line [String] of a log
      # @raise [RefusedAction]
      # @raise [JSON::ParserError]
      def self.parse(line)
        data = JSON.parse(line, symbolize_names: true)
        unless data.is_a?(Hash)
          raise RefusedAction.new(:act_no_mapping, typed: data.inspect[0, 40])
        end

        new(data)
      end

      # @param name [Symbol] of a field
      # @return [String, Numeric, Boolean, nil] as it was sent; nil if it says nothing of it
      def [](name) = @fields[name]

      # @return [Symbol, nil] the field as a name
      def named(field) = @fields[field]&.to_s&.to_sym

      # @return [Float] simulated seconds since the bench was begun
      def time_s = @at_ms / 1000.0

      # @return [Boolean] whether it leaves the water alone; a wire through a test cock does not
      def paper? = PAPER.include?(kind) && !(kind == :clean && fields[:at].to_s.start_with?("test_cock"))

      # @return [Hash{Symbol => Object}] as in a log, without what is nil
      def to_h = {at_ms: at_ms, id: id, kind: kind.to_s, **fields}.compact

      # @return [String] a line of a log
      def to_json(*) = JSON.generate(to_h, strict: true)

      private

      def check
        raise RefusedAction.new(:act_unknown, typed: kind) unless KINDS.key?(kind)
        unless at_ms.is_a?(Integer) && at_ms >= 0
          raise RefusedAction.new(:act_without_time)
        end

        raise RefusedAction.new(:act_too_late) if at_ms > LAST_MS
        raise RefusedAction.new(:act_number) if id && !(id.is_a?(String) && id.size <= 100)

        unknown = fields.keys - FIELDS
        raise RefusedAction.new(:act_says_unknown, listed: unknown.first(5)) if unknown.any?

        fields.each { |name, value| check_value(name, value) }
        missing = KINDS[kind].reject { |field| fields.key?(field) }
        raise RefusedAction.new(:act_lacks, typed: kind, listed: missing) if missing.any?
      end

      # Text, a number, yes, no or nothing; no lists, and no number that is none.
      def check_value(name, value)
        case value
        when String
          raise RefusedAction.new(:act_long, typed: name, characters: LONGEST) if value.size > LONGEST
        when Symbol, true, false, nil
          nil
        when Numeric
          raise RefusedAction.new(:act_number_unfit, typed: name) unless value.to_f.finite? && value.abs < 1.0e6
        else
          raise RefusedAction.new(:act_value_unfit, typed: name)
        end
      end
    end
  end
end
