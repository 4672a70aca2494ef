# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The needle over one step: what drives it, in frames as close as it runs fast, and how it follows, pins included.
    class Following
      # Frames every so many seconds, and closer where the needle is driven fast.
      FRAME_S = 0.1
      FRAME_PSID = 1.0
      MOST_FRAMES = 60
      NO_TIME_S = 1.0e-9

      # @param network [Network]
      def initialize(network)
        @gauge = network.gauge
        @high, @low = @gauge.hoses.map { |hose| hose && network.hoses[hose] }
        @high_hose, @low_hose = @gauge.hoses
      end

      # @param step [Step]
      # @param start [State]
      # @param finish [State] all of it but the needle
      # @param quiet [Boolean] nothing moved of late: one frame will do
      # @return [Array<Step::Frame>] the last is at the end
      def frames(step, start, finish, quiet)
        from = drive(start, start.kick_psid, start.pressures[@gauge.high], start.pressures[@gauge.low])
        last = drive(finish, finish.kick_psid, step.reached[@gauge.high], step.reached[@gauge.low])
        needle = start.needle_psid
        speed = start.needle_speed
        return [Step::Frame.new(finish.time_s, needle, 0.0)] if @gauge.pinned?(needle, speed, from, last)

        lag = (lag_s(start) + lag_s(finish)) / 2.0
        count = quiet ? 1 : frame_count(step.dt, from, last, needle, lag)
        dt = step.dt / count
        frames = []
        part = 0
        while part < count
          to = (part + 1 == count) ? last : inside(step, start, finish, (part + 1.0) / count)
          needle, speed = stretch(frames, start.time_s + dt * part, needle, speed, from, to, dt, lag)
          from = to
          part += 1
        end
        frames
      end

      private

      # What the mechanism feels somewhere in a step.
      def inside(step, start, finish, share)
        kick = start.kick_psid + (finish.kick_psid - start.kick_psid) * share
        drive(finish, kick, step.pressure(@gauge.high, share), step.pressure(@gauge.low, share))
      end

      # @param high [Float] psi in the chamber
      # @param low [Float]
      def drive(state, kick, high, low)
        apart = lifted(@high, @high_hose, high, state) - lifted(@low, @low_hose, low, state)
        @gauge.pressed(apart + @gauge.zero_error_psid + kick)
      end

      # Behind air in a hose, or a gap.
      def lifted(hose, position, psi, state)
        return psi unless hose
        return hose.top_psi if state.hose_gap[position] > 0.0

        psi + state.hose_air[position] * hose.column_psi
      end

      def lag_s(state)
        high = air(@high, @high_hose, state)
        low = air(@low, @low_hose, state)
        @gauge.lag_s((high > low) ? high : low)
      end

      # A hose that hangs free slows nothing.
      def air(hose, position, state)
        return 0.0 unless hose&.column?

        [state.hose_air[position] + state.hose_gap[position], 1.0].min
      end

      # Frames every tenth of a second, and closer where the drive runs, or the needle runs after it.
      def frame_count(dt, from, to, needle, lag)
        chase = (to - needle).abs * ((dt < lag) ? dt / lag : 1.0)
        run = (to - from).abs / FRAME_PSID
        close = chase / FRAME_PSID * 4.0
        most = ((run > close) ? run : close).ceil
        most = MOST_FRAMES if most > MOST_FRAMES
        spread = (dt / FRAME_S).ceil
        (most > spread) ? most : spread
      end

      # One stretch of straight drive: to its end, or to a pin and off it again.
      def stretch(frames, time_s, needle, speed, from, to, dt, lag)
        held = held_s(needle, speed, from, to, dt)
        if held > 0.0
          frames << Step::Frame.new(time_s + held, needle, 0.0)
          return needle, 0.0 if dt - held < NO_TIME_S

          return stretch(frames, time_s + held, needle, 0.0, needle, to, dt - held, lag)
        end

        there, running = @gauge.follow(needle, speed, from, to, dt, lag)
        if there > Gauge::TOP_PSID || there < Gauge::BOTTOM_PSID
          pin = there.clamp(Gauge::BOTTOM_PSID, Gauge::TOP_PSID)
          return bounce(frames, time_s, needle, speed, from, to, dt, lag, pin)
        end
        frames << Step::Frame.new(time_s + dt, there, running)
        [there, running]
      end

      # How long a needle at rest on a pin is still held there.
      def held_s(needle, speed, from, to, dt)
        return 0.0 unless speed.zero? && [Gauge::TOP_PSID, Gauge::BOTTOM_PSID].include?(needle)

        side = (needle == Gauge::TOP_PSID) ? 1.0 : -1.0
        pressed = (to - needle) * side >= 0.0
        return pressed ? dt : 0.0 if (from - needle) * side <= 0.0
        return dt if pressed

        dt * (from - needle) / (from - to)
      end

      def bounce(frames, time_s, needle, speed, from, to, dt, lag, pin)
        met = @gauge.meets(needle, speed, from, to, dt, lag, pin)
        at_pin = from + (to - from) * met / dt
        arriving = @gauge.follow(needle, speed, from, at_pin, met, lag).last
        left = dt - met
        back = (arriving.abs > Gauge::AT_REST) ? -Gauge::BOUNCE * arriving : 0.0
        frames << Step::Frame.new(time_s + met, pin, back, arriving)
        return pin, back if left < NO_TIME_S

        stretch(frames, time_s + met, pin, back, at_pin, to, left, lag)
      end
    end
  end
end
