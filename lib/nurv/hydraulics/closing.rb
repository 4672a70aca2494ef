# frozen_string_literal: true

module Nurv
  module Hydraulics
    # The end of a step: brings along what is not a pressure. Relief valve and air inlet, free surfaces, which water is
    # where, air in the hoses, what water stopped short leaves in the gauge, and the needle.
    class Closing
      # @param network [Network]
      def initialize(network)
        @network = network
        @filling = Filling.new(network)
        @kick = Kick.new(network)
        @following = Following.new(network)
      end

      # @param step [Step] open at its end
      # @param quiet [Boolean] nothing moved of late
      # @return [Step] complete
      def close(step, quiet)
        start = step.start
        pressures = step.reached
        end_s = start.time_s + step.dt
        @network.at(end_s, start)
        finish = start.dup
        finish.time_s = end_s
        finish.pressures = pressures.freeze
        finish.relief_position = @network.relief_valve.follow(pressures) if @network.relief_valve
        Turning.air_inlet(@network, start, finish, step.dt)
        finish.air_present = Turning.air_present(@network, finish, pressures)
        finish.pressures = Turning.brimful(@network, start, finish)
        finish.shares = @network.tracer.carry(start.shares, start.pressures, pressures, step.dt) if @network.tracer
        @filling.fill(start, finish, step.dt)
        finish.kick_psid = @kick.after(start, pressures, step.dt)
        frames = @following.frames(step, start, finish, quiet)
        finish.needle_psid = frames.last.needle_psid
        finish.needle_speed = frames.last.speed
        step.complete(finish.freeze, frames)
      end

      # See Filling#coming_back_ml.
      def coming_back_ml(state) = @filling.coming_back_ml(state)
    end
  end
end
