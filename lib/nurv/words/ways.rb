# frozen_string_literal: true

module Nurv
  class Words
    # Ways that water takes, in the middle of a sentence: “2.1 mL/s through the low control”.
    module Ways
      HOSE = /\Ahose_(?<hose>\w+?)(?:_near)?\z/
      private_constant :HOSE

      module_function

      # @param words [Words]
      # @param list [Array<Array>] way [Symbol], mL/s, whether it ought to hold, whether it leads to air, whether water
      #   comes in by it
      # @return [String]
      def told(words, list, about) =
        list.map { |way, ml_s, shut, air, inward|
          "#{format((ml_s < 10) ? "%.1f" : "%.0f", [ml_s, 0.1].max)} mL/s " +
            phrase(words, way.to_sym, shut: shut, air: air, inward: inward, about: about)
        }.join(" and ")

      # @return [String] like “past SOV2 (shut, but it lets by)”
      def phrase(words, way, shut:, air:, inward:, about:)
        own = words.way(way)
        return own if own && !shut

        name = called(words, way, about)
        return words.say(:"ways.lets_by", name: name) if shut
        return words.say(inward ? :"ways.drawn_in" : :"ways.out_of", name: name) if air

        words.say(:"ways.through", name: name)
      end

      # @return [String] of a way as it is called in the middle of a sentence
      def called(words, way, about)
        found = HOSE.match(way.to_s)
        return "the #{words.hose_of(found[:hose].to_sym, about.kit)}" if found
        return words.part(way) if words.known?(:parts, way) && way != :relief_valve

        label = words.control(way)
        label.match?(/\A[A-Z]{2}/) ? label : "the #{label.sub(/\A[A-Z](?=[a-z])/, &:downcase)}"
      end
    end
  end
end
