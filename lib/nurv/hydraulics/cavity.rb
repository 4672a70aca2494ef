# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Water that is pulled apart. No liquid stands below its vapor pressure: where a shut-in volume is drawn on, first
    # the air dissolved in it comes out and then it boils, and the volume gives way at that pressure.
    #
    # A node below FORMS_PSI takes up CAPACITANCE more per psi; how far it lies below says how large its cavity is, so
    # the same water fills it again. 100 mL of cavity lie a third of a psi below.
    # Source: vapor pressure of water at 60 °F, 0.26 psi absolute; dissolved air comes out a little above it.
    module Cavity
      # Gauge pressure at which water boils, psi; nothing is ever below.
      VAPOR_PSI = 0.26 - Units::ATMOSPHERE_PSI
      FORMS_PSI = VAPOR_PSI + 0.4
      # mL of water per psi.
      CAPACITANCE = 300.0

      module_function

      # @param pressure_psi [Float] gauge
      # @return [Boolean] a cavity stands there
      def forms?(pressure_psi) = pressure_psi < FORMS_PSI

      # @return [Float] mL of water that it lacks there, negative; 0.0 where none stands
      def held_ml(pressure_psi) = forms?(pressure_psi) ? CAPACITANCE * (pressure_psi - FORMS_PSI) : 0.0
    end
  end
end
