# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The differential gauge: what it is driven by, and how its needle follows.
    #
    # A needle has a mass on a spring: it runs past what it is bound for by a few hundredths of the way, and bounces off
    # a pin. Damping and speed are estimates; the speed is set so that the needle lags behind a steady ramp by #lag_s.
    class Gauge
      BOTTOM_PSID = -0.5
      TOP_PSID = 15.4
      LAG_S = 0.15
      LAG_PER_AIR_S = 0.5
      # Share of critical damping.
      DAMPING = 0.75
      RINGING = Math.sqrt(1.0 - DAMPING * DAMPING)
      # Share of its speed with which a needle comes off a pin.
      BOUNCE = 0.35
      # How hard the mechanism is pressed against a pin at most, psid: it yields no further.
      PRESSED_PSID = 3.0
      # A needle that comes to its pin slower than this stays there, psid/s.
      AT_REST = 0.5

      attr_reader :high, :low, :hoses, :zero_error_psid

      # @param high [Integer] node of the high chamber
      # @param low [Integer] node of the low chamber
      # @param hoses [Array<Integer, nil>] the high and the low hose; nil where a chamber has none
      def initialize(high:, low:, hoses: [nil, nil], zero_error_psid: 0.0)
        @high = high
        @low = low
        @hoses = hoses
        @zero_error_psid = zero_error_psid
        freeze
      end

      # @param air [Float] the greater share of air in its two hoses
      # @return [Float] s behind a drive that runs steadily
      def lag_s(air) = LAG_S + LAG_PER_AIR_S * air

      # @return [Float] what presses on the mechanism
      def pressed(drive_psid) = drive_psid.clamp(BOTTOM_PSID - PRESSED_PSID, TOP_PSID + PRESSED_PSID)

      # @return [Boolean] the needle lies on a pin and is held there all along a straight drive
      def pinned?(needle, speed, from, to)
        return false unless speed.zero?

        (needle >= TOP_PSID && from >= TOP_PSID && to >= TOP_PSID) ||
          (needle <= BOTTOM_PSID && from <= BOTTOM_PSID && to <= BOTTOM_PSID)
      end

      # The needle behind a drive that runs in a straight line; exact for any dt, pins left aside.
      #
      # e″ + 2ζω·e′ + ω²·e = 0 for what it is off the ramp, ω = 2ζ/lag.
      #
      # @return [Array(Float, Float)] psid and psid/s at the end of dt
      def follow(needle, speed, from, to, dt, lag)
        rate = (to - from) / dt
        omega = 2.0 * DAMPING / lag
        fading = DAMPING * omega
        ringing = RINGING * omega
        off = needle - from + rate * lag
        away = speed - rate
        decay = Math.exp(-fading * dt)
        sine = Math.sin(ringing * dt) / ringing
        cosine = Math.cos(ringing * dt)
        [
          to - rate * lag + decay * (off * cosine + (away + fading * off) * sine),
          rate + decay * (away * cosine - (omega * omega * off + fading * away) * sine)
        ]
      end

      # Where along a stretch the needle first meets a pin, by halving.
      #
      # @param beyond [Float] the pin it is past at the end of the stretch
      # @return [Float] s, at most dt
      def meets(needle, speed, from, to, dt, lag, beyond)
        early = 0.0
        late = dt
        side = (beyond >= TOP_PSID) ? 1.0 : -1.0
        24.times do
          middle = (early + late) / 2.0
          there = follow(needle, speed, from, from + (to - from) * middle / dt, middle, lag).first
          ((there - beyond) * side > 0.0) ? late = middle : early = middle
        end
        late
      end
    end
  end
end
