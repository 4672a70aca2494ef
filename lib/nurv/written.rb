# frozen_string_literal: true

module Nurv
  # Numbers as people write them on paper: with a point or a comma, with a unit or without, with a mark behind.
  #
  # The one rule of rounding: a reading is brought to psid and to a tenth, half up, before anything is compared with it.
  module Written
    NUMBER = /\A(?<number>[+-]?(?:\d{1,6}(?:[.,]\d{0,6})?|[.,]\d{1,6}))\s*(?<unit>psid?|kpa)?\s*[.,;:!?*]*\z/i
    private_constant :NUMBER

    module_function

    # @param text [Object] as typed
    # @return [Float, nil] psi or psid; nil where it is no number, or a number with something else beside it
    def psi(text) = exact(text)&.to_f

    # @param text [Object] as typed
    # @return [Float, nil] psid to a tenth, as it is compared
    def psid(text) = exact(text)&.round(1, half: :up)&.to_f

    # @param text [Object] as typed
    # @return [Boolean] whether it can be read as a number
    def number?(text) = NUMBER.match?(text.to_s.strip)

    # Month before day, as it is written in North America, unless that cannot be; a day before a month with points.
    SLASHED = %r{\A(\d{1,2})/(\d{1,2})/(\d{2}|\d{4})\z}
    POINTED = /\A(\d{1,2})\.(\d{1,2})\.(\d{2}|\d{4})\z/
    LONGEST_DATE = 40
    private_constant :SLASHED, :POINTED, :LONGEST_DATE

    # @param text [Object] as typed, such as 2026-11-20, 11/20/2026 or Nov 20, 2026
    # @return [Date, nil] nil where it is no date
    def date(text)
      typed = text.to_s.strip[0, LONGEST_DATE]
      if (found = SLASHED.match(typed))
        month, day, year = found.captures.map(&:to_i)
        month, day = day, month if month > 12
        return of_calendar(year, month, day)
      end
      if (found = POINTED.match(typed))
        day, month, year = found.captures.map(&:to_i)
        return of_calendar(year, month, day)
      end
      Date.parse(typed)
    rescue Date::Error
      nil
    end

    def of_calendar(year, month, day) = Date.new((year < 100) ? 2000 + year : year, month, day)
    private_class_method :of_calendar

    # Exact, so that a tenth is a tenth: 4.95 is rounded up and not what binary makes of it.
    #
    # @return [Rational, nil] psi
    def exact(text)
      found = NUMBER.match(text.to_s.strip) or return
      number = found[:number].tr(",", ".").sub(/(?<!\d)\./, "0.").to_r
      (found[:unit].to_s.downcase == "kpa") ? number / Units::KPA_PER_PSI.rationalize : number
    end
    private_class_method :exact
  end
end
