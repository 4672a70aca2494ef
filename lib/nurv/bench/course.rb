# frozen_string_literal: true

module Nurv
  module Bench
    # The water from one act that touched it until the next. Laid out, and worked out, only when somebody asks: who
    # grades knows what each act found, and asks about few moments in between.
    class Course
      # @param variant [Stations::Variant] as it is by then
      # @param state [State] after that act
      def initialize(variant, state)
        @variant = variant
        @state = state
        @runnings = []
      end

      # @param state [State] as it was connected otherwise: its water, laid out anew
      def begins(state) = @state = state

      # @param running [Hydraulics::Trajectory::Running] a moment on the way that is known: what comes after it is
      #   worked out from there. Too late once somebody has asked.
      def known(running)
        @runnings << running unless @trajectory || @runnings.any? { |one| one.state.time_s >= running.state.time_s }
      end

      # @return [Hydraulics::Network]
      def network = @network ||= Plumbing.new(@variant, @state).network

      # @return [Hydraulics::Trajectory]
      def trajectory = @trajectory ||= Hydraulics::Trajectory.new(network, @state.water, runnings: @runnings)
    end
  end
end
