# frozen_string_literal: true

module Nurv
  module Hydraulics
    # One accepted step of a trajectory, with what is needed to know the water anywhere inside it.
    class Step
      # A moment inside the step: time, needle, and what drives the needle.
      Frame = Struct.new(:time_s, :needle_psid, :drive_psid)

      attr_reader :start, :finish, :dt, :frames

      def initialize(start, dt, slope1, slope2)
        @start = start
        @dt = dt
        @slope1 = slope1
        @slope2 = slope2
      end

      def complete(finish, frames)
        @finish = finish
        @frames = frames
        self
      end

      def time_s = @start.time_s

      def end_s = @start.time_s + @dt

      # Dense output of ROS2, second order, exact at both ends: b2 = (θ²/2 − γθ)/(1 − 2γ), b1 = b2 + θ.
      #
      # @param theta [Float] 0..1 along the step
      # @return [Array<Float>] psi per node
      def pressures(theta)
        gamma = Integrator::GAMMA
        second = (theta * theta / 2.0 - gamma * theta) / (1.0 - 2.0 * gamma)
        first = second + theta
        start = @start.pressures
        Array.new(start.size) { |node| start[node] + @dt * (first * @slope1[node] + second * @slope2[node]) }
      end

      def needle_at(time_s)
        after = @frames.index { |frame| frame.time_s >= time_s }
        return @finish.needle_psid unless after

        right = @frames[after]
        left = after.zero? ? Frame.new(@start.time_s, @start.needle_psid) : @frames[after - 1]
        span = right.time_s - left.time_s
        return right.needle_psid if span <= 0.0

        left.needle_psid + (right.needle_psid - left.needle_psid) * (time_s - left.time_s) / span
      end
    end
  end
end
