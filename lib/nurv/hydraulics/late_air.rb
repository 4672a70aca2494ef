# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The part of trapped air that yields late, over one step.
    #
    # dy/dt = (p − y)/τ for its pressure y behind the air's own, p. Over a step in which p runs straight from p to
    # p + Δp this is solved exactly: what it takes up is chord·(φ·Δp + (p − y)·(1 − e)), e = exp(−dt/τ),
    # φ = 1 − τ/dt·(1 − e). Booked by volume, so that no water is made or lost whatever p does in between.
    module LateAir
      # Closer than this its pressure is that of the air, psi.
      AT_REST_PSI = 1.0e-5

      module_function

      # @return [Boolean] nothing more is to come
      def rests?(late_psi, pressure_psi) = (pressure_psi - late_psi).abs < AT_REST_PSI

      # @param free_ml [Float] of all the air, at atmospheric pressure
      # @param late_psi [Float] y at the start
      # @param pressure_psi [Float] p at the start
      # @return [Array(Float, Float, Float)] chord mL/psi; φ; (p − y)·(1 − e) psi
      def over(free_ml, late_psi, pressure_psi, dt)
        gone = 1.0 - Math.exp(-dt / Air::LATE_S)
        following = 1.0 - Air::LATE_S / dt * gone
        chord = Air.chord(free_ml * Air::LATE, late_psi, pressure_psi)
        [chord, following, rests?(late_psi, pressure_psi) ? 0.0 : (pressure_psi - late_psi) * gone]
      end

      # @param change_psi [Float] Δp over the step
      # @return [Float] y at its end, psi
      def after(free_ml, late_psi, pressure_psi, change_psi, dt)
        return pressure_psi + change_psi if free_ml <= 1.0e-9 || dt <= 0.0

        chord, following, coming = over(free_ml, late_psi, pressure_psi, dt)
        free = free_ml * Air::LATE
        left = Air.volume_ml(free, late_psi) - chord * (following * change_psi + coming)
        Air.pressure_psi(free, [left, free * 1.0e-3].max)
      end
    end
  end
end
