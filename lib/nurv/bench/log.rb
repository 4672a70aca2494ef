# frozen_string_literal: true

module Nurv
  module Bench
    # The acts of an attempt in time order. Only ever added to.
    class Log
      include Enumerable

      # More acts than any test has; nobody works so long at a bench.
      MOST = 12_000

      attr_reader :actions

      # @param actions [Array<Action>] in time order
      def initialize(actions = [])
        @actions = actions.freeze
        freeze
      end

      # @param text [String] JSON Lines, one act a line
      # @raise [DataError] with the line of every problem
      def self.parse(text, path = "log")
        raise DataError.new(path, [["top", Remark.new(:log_too_long, acts: MOST)]]) if text.count("\n") > MOST
        raise DataError.new(path, [["top", Remark.new(:not_text)]]) unless Facts.text?(text)

        problems = []
        actions = []
        text.each_line.with_index(1) do |line, number|
          next if line.strip.empty?

          action = Action.parse(line)
          raise RefusedAction.new(:act_back_in_time) if actions.any? && action.at_ms < actions.last.at_ms

          actions << action
        rescue JSON::ParserError
          problems << ["line #{number}", Remark.new(:not_json)]
        rescue RefusedAction => error
          problems << ["line #{number}", error.remark]
        end
        raise DataError.new(path, problems) if problems.any?

        new(actions)
      end

      # @yieldparam action [Action] in time order
      def each(&block) = @actions.each(&block)

      # @param other [Action] not before the last one here
      # @return [Log] this one and the act after it
      def +(other) = Log.new(@actions + [other])

      # @return [Integer] simulated ms of the last act; 0 without any
      def last_ms = @actions.last&.at_ms || 0

      # @return [Integer] how many acts
      def size = @actions.size

      # @param kind [Symbol] one of Action::KINDS
      # @return [Array<Action>] those of a kind, in time order
      def of(kind) = @actions.select { |action| action.kind == kind }

      # @return [String] JSON Lines, read back by .parse
      def to_jsonl = @actions.map { |action| "#{action.to_json}\n" }.join
    end
  end
end
