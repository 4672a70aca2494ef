# frozen_string_literal: true

module Nurv
  module Hydraulics
    # One accepted step of a trajectory, with what is needed to know the water anywhere inside it.
    class Step
      # A moment inside the step: time, needle, and its speed, psid/s. Where it comes to a pin and bounces, `arriving`
      # is the speed before and `speed` the one after.
      Frame = Struct.new(:time_s, :needle_psid, :speed, :arriving)

      attr_reader :start, :finish, :dt, :frames, :wish_s, :quiet, :reached

      # @param stages [Array<Float>] see Integrator#stages
      # @param reached [Array<Float>] psi per node at its end, as it was tried
      def initialize(start, dt, stages, reached)
        @start = start
        @dt = dt
        @stages = stages
        @reached = reached
      end

      # How it was begun, so that it can be taken again.
      #
      # @param wish_s [Float] how long it was meant to be
      # @param quiet [Boolean] nothing moved before it
      # @return [Step] itself
      def begun(wish_s, quiet)
        @wish_s = wish_s
        @quiet = quiet
        self
      end

      # @param finish [State] at the end of the step
      # @param frames [Array<Frame>] in time order
      # @return [Step] itself
      def complete(finish, frames)
        @finish = finish
        @frames = frames
        self
      end

      # @return [Float] simulated seconds at its start
      def time_s = @start.time_s

      # @return [Float] simulated seconds at its end
      def end_s = @start.time_s + @dt

      # Dense output of the integrator, exact at both ends.
      #
      # @param theta [Float] 0..1 along the step
      # @return [Array<Float>] psi per node
      def pressures(theta)
        Array.new(@reached.size) { |node| pressure(node, theta) }
      end

      # @param time_s [Float] simulated seconds; before it and after it they are as at its ends
      # @return [Array<Float>] psi per node
      def pressures_at(time_s) = pressures(((time_s - @start.time_s) / @dt).clamp(0.0, 1.0))

      # @return [Float] psi of one node
      def pressure(node, theta)
        linear, square, cube = (@bends ||= [])[node] ||= bend(node)
        @start.pressures[node] + theta * (linear + theta * (square + theta * cube))
      end

      # @return [Float] psi of one node over another, as in #pressures
      def difference(high, low, theta) = pressure(high, theta) - pressure(low, theta)

      # A needle swings through its frames: between two of them it runs as a cubic does that has their places and
      # speeds.
      #
      # @param time_s [Float] inside the step
      # @return [Float] psid
      def needle_at(time_s)
        after = @frames.bsearch_index { |frame| frame.time_s >= time_s }
        return @finish.needle_psid unless after

        right = @frames[after]
        left = after.zero? ? Frame.new(@start.time_s, @start.needle_psid, @start.needle_speed) : @frames[after - 1]
        span = right.time_s - left.time_s
        return right.needle_psid if span <= 0.0 || stands?(left, right)

        cubic(left, right, span, (time_s - left.time_s) / span)
      end

      private

      # Few nodes of few steps are ever asked about.
      #
      # @return [Array<Float>] psi per power of θ from the first
      def bend(node)
        size = @reached.size
        v1 = @stages[node]
        v2 = @stages[size + node]
        v3 = @stages[size * 2 + node]
        v4 = @stages[size * 3 + node]
        v5 = @stages[size * 4 + node]
        even, odd =
          Scheme::DENSE.map { |w1, w2, w3, w4, w5| w1 * v1 + w2 * v2 + w3 * v3 + w4 * v4 + w5 * v5 }
        [@reached[node] - @start.pressures[node] + even, odd - even, 0.0 - odd]
      end

      # At rest from one to the other, as on a pin: to the bit, and not as near as a cubic comes.
      def stands?(left, right) = left.needle_psid == right.needle_psid && left.speed.zero? && right.speed.zero?

      # Hermite's cubic.
      def cubic(left, right, span, share)
        rest = 1.0 - share
        place = left.needle_psid * rest * rest * (1.0 + 2.0 * share) +
          right.needle_psid * share * share * (3.0 - 2.0 * share)
        place += share * rest * span * (left.speed * rest - (right.arriving || right.speed) * share)
        place.clamp(Gauge::BOTTOM_PSID, Gauge::TOP_PSID)
      end
    end
  end
end
