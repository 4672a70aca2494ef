# frozen_string_literal: true

module Nurv
  module Bench
    # A control turned by a hand that is followed: one ramp after the other, each an act of its own with the time it
    # took. What is seen is every ramp; what a tester did is the stroke.
    module Stroke
      # Ramps this near are one stroke, ms: an act lands up to so much later than it was begun.
      TOUCH_MS = 900
      # Shortest and longest ramp, ms.
      OVER_MS = 20..3_000

      # @param before [Action]
      # @param action [Action]
      # @return [Boolean] it goes on with what the one before began
      def self.goes_on?(before, action)
        return false unless ramp?(before) && ramp?(action) && before[:valve].to_s == action[:valve].to_s

        action.at_ms - before.at_ms - before[:over] <= TOUCH_MS
      end

      # @return [Boolean] followed by hand
      def self.ramp?(action) = action.kind == :turn && !action[:over].nil?

      # Acts as what was done: of each stroke its first ramp with where the last one led to.
      #
      # @param actions [Enumerable<Action>]
      # @return [Array<Action>]
      def self.folded(actions)
        strokes(actions, :itself.to_proc).map do |ramps|
          next ramps.first if ramps.size == 1

          took = ramps.last.at_ms + ramps.last[:over] - ramps.first.at_ms
          Action.new({**ramps.first.to_h, to: ramps.last[:to], over: took})
        end
      end

      # What was done at a replayed bench, for whoever reads what a tester did and not what was seen meanwhile: of each
      # stroke one entry, at the time of its last ramp.
      #
      # @param entries [Array<Replay::Entry>]
      # @return [Array<Replay::Entry>]
      def self.done(entries)
        strokes(entries, :action.to_proc).map do |ramps|
          next ramps.first if ramps.size == 1

          Replay::Entry.new(ramps.last.action, ramps.first.before, ramps.last.span)
        end
      end

      # A hand that turns back begins another stroke.
      def self.strokes(list, act_of)
        stood = {}
        heading = nil
        list.each_with_object([]) do |item, strokes|
          act = act_of.call(item)
          way = (act.kind == :turn && stood[act[:valve]]) ? act[:to] <=> stood[act[:valve]] : nil
          before = strokes.last && act_of.call(strokes.last.last)
          on = before && goes_on?(before, act) && (heading.nil? || way.nil? || way == heading)
          on ? strokes.last << item : strokes << [item]
          heading = on ? heading || way : way
          stood[act[:valve]] = act[:to] if act.kind == :turn
        end
      end
      private_class_method :strokes

      # The same for a bench at work, one act after the other: of a stroke its first ramp and its newest are kept.
      #
      # @param entries [Array<Replay::Entry>]
      # @param entry [Replay::Entry] what comes next
      # @return [Array<Replay::Entry>]
      def self.followed(entries, entry)
        last, before = entries[-1], entries[-2]
        middle = last && before && goes_on?(before.action, last.action) && goes_on?(last.action, entry.action)
        (middle ? entries[0..-2] : entries) + [entry]
      end
    end
  end
end
