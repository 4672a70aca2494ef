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
