# frozen_string_literal: true

module Nurv
  module Bench
    # A whole attempt: station, seed and log turned back into spans of the bench. Everything shown or graded is read
    # here.
    class Replay
      Entry = Struct.new(:action, :before, :span)

      attr_reader :variant, :entries, :first

      # @param variant [Stations::Variant]
      # @param log [Log]
      # @param met [Hash{Integer => Met}] by the index of an act: what it met with, where that is known
      # @raise [RefusedAction] naming the act, if one cannot be done
      def initialize(variant, log, met: {})
        @variant = variant
        @first = Span.new(variant, Opening.new(variant).state)
        span = @first
        @entries =
          log.each_with_index.map do |action, index|
            before = met.key?(index) ? span.meets(met[index]) : span
            span = span.after(action, new: false)
            Entry.new(action, before, span)
          rescue RefusedAction => error
            raise RefusedAction.new(:act_refused, at_ms: action.at_ms, typed: action.kind, remark: error.remark)
          end
        freeze
      end

      # A stretch of an attempt that is at hand already.
      #
      # @param entries [Array<Entry>] at least one
      def self.recent(variant, entries) = allocate.tap { |replay| replay.send(:take, variant, entries) }

      # @return [Array<Span>] from before the first act to after the last
      def spans = [first, *entries.map(&:span)]

      # @return [Span] the bench after the last act
      def last = entries.last&.span || first

      # @return [Float] simulated seconds of the last act
      def end_s = last.from_s

      # @return [Span] the one that covers this time
      def span_at(time_s)
        entries.reverse_each { |entry| return entry.span if entry.span.from_s <= time_s }
        first
      end

      def take(variant, entries)
        @variant = variant
        @first = entries.first.before
        @entries = entries
      end
      private :take

      # @return [Float] psid, as the needle stood; negative below zero
      def needle_at(time_s) = span_at(time_s).needle_at(time_s)
    end
  end
end
