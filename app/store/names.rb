# frozen_string_literal: true

module Store
  # Names as people type them and as they are compared: what looks the same is the same.
  module Names
    # Joiners and marks that nobody sees, and every sort of space.
    UNSEEN = /[\p{Cf}\p{Cc}]/
    SPACES = /[\p{Space}\u00A0\u2000-\u200A\u202F\u205F\u3000]+/
    # Characters that are looked at, more than any name may have: Ruby sorts a run of combining marks in time that grows
    # with the square of its length, and anybody can send one.
    LONGEST = 200

    module_function

    # @param text [String] as typed
    # @return [String] as it is saved: composed, with single plain spaces, cut to LONGEST characters before anything
    #   else is done with it
    def clean(text) =
      utf8(text).lstrip[0, LONGEST].unicode_normalize(:nfkc).gsub(SPACES, " ").gsub(UNSEEN, "").strip

    # @return [String] for comparing: without regard to case, width, invisible signs and look-alike spaces
    def plain(text) = clean(text).downcase(:fold)

    # How many letters two names differ by (Levenshtein), for “did you mean”.
    #
    # @return [Integer]
    def distance(one, other)
      one, other = plain(one).chars, plain(other).chars
      row = (0..other.size).to_a
      one.each_with_index do |letter, index|
        before, row[0] = row[0], index + 1
        other.each_with_index do |against, place|
          before, row[place + 1] =
            row[place + 1],
            [row[place + 1] + 1, row[place] + 1, before + ((letter == against) ? 0 : 1)].min
        end
      end
      row.last
    end

    # @param names [Array<String>]
    # @return [Array<String>] those that may be meant by this one, likeliest first
    def near(name, names)
      plain_name = plain(name)
      first = plain_name.split.first.to_s
      scored =
        names.map do |other|
          score = distance(name, other)
          score = [score, 2].min if first.size > 1 && plain(other).split.include?(first)
          [score, other]
        end
      scored.select { |score, other| score <= [2, other.size / 3].max }.sort.map(&:last).first(3)
    end

    def utf8(text)
      given = text.to_s.dup.force_encoding("UTF-8")
      given.valid_encoding? ? given : given.scrub("")
    end
  end
end
