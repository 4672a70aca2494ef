# frozen_string_literal: true

module Nurv
  # Units of the trade and their exact factors.
  module Units
    # Weight of a column of water. Source: 62.4 lb/ft3 / 1728 in3/ft3.
    PSI_PER_INCH_OF_WATER = 0.0361
    # Source: definition of the pound and the inch.
    KPA_PER_PSI = 6.894757
    # Standard atmosphere; absolute pressure of air trapped in a hose = gauge + this.
    ATMOSPHERE_PSI = 14.7

    module_function

    # @param inches [Float] height above the centre line of the pipe
    # @return [Float] psi
    def head_psi(inches) = inches * PSI_PER_INCH_OF_WATER

    # @param psi [Float]
    # @return [Float] kPa
    def kpa(psi) = psi * KPA_PER_PSI

    # What a gauge may read in, and how many of it a psi is.
    PER_PSI = {psi: 1.0, kpa: KPA_PER_PSI}.freeze

    # A tenth of either: whole kPa are coarser than a limit allows.
    #
    # @param psid [Float, nil] a differential; nil prints a dash
    # @param unit [Symbol] :psi or :kpa
    def differential(psid, unit: :psi) = psid.nil? ? "–" : "#{number(psid, unit: unit)} #{unit_name(unit)}"

    # @param psid [Float] a differential
    # @return [String] to a tenth, without its unit; nobody reads or writes −0.0
    def number(psid, unit: :psi) = format("%.1f", psid * PER_PSI.fetch(unit)).sub(/\A-(?=0\.0\z)/, "")

    # @param unit [Symbol] :psi or :kpa
    # @return [String] of a differential
    def unit_name(unit) = (unit == :kpa) ? "kPa" : "psid"

    # @param unit [Symbol] :psi or :kpa
    # @return [String] of a line pressure
    def line_name(unit) = (unit == :kpa) ? "kPa" : "psi"

    # @param psi [Float, nil] a line pressure
    def pressure(psi, unit: :psi)
      return "–" if psi.nil?

      (unit == :kpa) ? format("%.0f kPa", kpa(psi)) : format("%.0f psi", psi)
    end

    # @param seconds [Float]
    # @return [String] minutes and seconds, like 3:07
    def clock(seconds) = format("%d:%02d", seconds.to_i / 60, seconds.to_i % 60)
  end
end
