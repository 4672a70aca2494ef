# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Trapped air, measured by the room it takes at atmospheric pressure.
    #
    # Source: Boyle, V·(P + p0) = V0·p0. Squeezed or let go in a moment it follows a steeper law (adiabatic, exponent
    # 1.4) and warms or cools; as it comes back to the temperature of the water around it, the rest of the way follows
    # late. Both parts are kept as two airs of one pressure each: 1/1.4 of it yields at once, and the late part has a
    # pressure of its own that runs after the hose's. It is why a hose with air in it springs back once its bleed is
    # shut, and a bled one does not.
    module Air
      # Share of the air's yield that comes late: 1 − 1/1.4.
      LATE = 1.0 - 1.0 / 1.4
      # Estimate: a bubble of some millilitres in water.
      LATE_S = 2.5
      # No gauge pressure is below this, psi; it keeps Boyle's law from its pole.
      LEAST_ABSOLUTE_PSI = 1.0

      module_function

      # @param free_ml [Float] of air at atmospheric pressure
      # @param pressure_psi [Float] gauge
      # @return [Float] mL that it takes up
      def volume_ml(free_ml, pressure_psi) = free_ml * Units::ATMOSPHERE_PSI / absolute(pressure_psi)

      # @return [Float] mL of water per psi that it makes room for: the slope of #volume_ml, without its sign
      def capacitance(free_ml, pressure_psi)
        absolute = absolute(pressure_psi)
        free_ml * Units::ATMOSPHERE_PSI / (absolute * absolute)
      end

      # The late part on its way from one pressure to another: mL that it yields per psi between the two.
      def chord(free_ml, from_psi, to_psi) =
        free_ml * Units::ATMOSPHERE_PSI / (absolute(from_psi) * absolute(to_psi))

      # @return [Float] psi at which air takes up so much room
      def pressure_psi(free_ml, volume_ml) = free_ml * Units::ATMOSPHERE_PSI / volume_ml - Units::ATMOSPHERE_PSI

      # @return [Float] psi absolute
      def absolute(pressure_psi)
        absolute = pressure_psi + Units::ATMOSPHERE_PSI
        (absolute < LEAST_ABSOLUTE_PSI) ? LEAST_ABSOLUTE_PSI : absolute
      end
    end
  end
end
