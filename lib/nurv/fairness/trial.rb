# frozen_string_literal: true

module Nurv
  module Fairness
    # One log whose marks are known beforehand, and what the grader made of it.
    #
    # procedure, title [String]; wanted, got [Array<Symbol>] mistakes; score [Float]
    Trial =
      Struct.new(:procedure, :title, :wanted, :got, :score, keyword_init: true) do
        # @return [Boolean] nothing was planted in it
        def good? = wanted.empty?

        # @return [Array<Symbol>] planted and not named
        def missed = wanted - got

        # @return [Array<Symbol>] named and not planted
        def extra = got - wanted

        # @return [Boolean] every mistake named, and nothing else; a good log loses nothing at all
        def right? = missed.empty? && extra.empty? && (!good? || score >= 100.0)

        # @return [String] for a list of what went wrong
        def to_s =
          "#{procedure}: #{title}: #{score}" \
            "#{", missed #{missed.join(" ")}" if missed.any?}#{", also #{extra.join(" ")}" if extra.any?}"
      end
  end
end
