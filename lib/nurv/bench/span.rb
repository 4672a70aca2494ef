# frozen_string_literal: true

module Nurv
  module Bench
    # The bench from one act until the next: a state, and the water running on from it.
    class Span
      attr_reader :state, :variant

      # @param trajectory [Hydraulics::Trajectory, nil] handed on by an act that left the water alone
      def initialize(variant, state, trajectory = nil)
        @base = variant
        @variant = variant.after(state.changes)
        @state = state
        @trajectory = trajectory
      end

      # @return [Float] simulated seconds of the act it begins with
      def from_s = state.time_s

      # @return [Hydraulics::Network] pipes, valves and hoses as they are set here
      def network = trajectory.network

      # @return [Hydraulics::Trajectory] the water from here on, worked out as far as it is asked for
      def trajectory
        @trajectory ||= Hydraulics::Trajectory.new(Plumbing.new(variant, state).network, state.water)
      end

      # @param action [Action]
      # @return [Span] from that act on
      # @raise [RefusedAction]
      def after(action)
        changed = Hands.new(variant, self).apply(action)
        Span.new(@base, changed, action.paper? ? trajectory : nil)
      end

      # Lets go of what can be worked out again.
      def forget = @trajectory = nil

      # @param time_s [Float] simulated seconds, not before #from_s
      # @return [Hydraulics::State] of the water at that moment
      def water_at(time_s) = trajectory.state_at(time_s)

      # @param time_s [Float] simulated seconds, not before #from_s
      # @return [Float] psid where the needle stands, lag and zero error included
      def needle_at(time_s) = trajectory.needle_at(time_s)

      # What the face shows: the frozen value if one was captured.
      def shown_at(time_s) = state.captured_psid || needle_at(time_s)

      # @return [Float] psi at a node of the network
      def pressure_at(time_s, node) = trajectory.pressures_at(time_s)[network.index.fetch(node)]

      # True differential across two nodes, beside what the gauge showed.
      def differential_at(time_s, from, to)
        pressures = trajectory.pressures_at(time_s)
        pressures[network.index.fetch(from)] - pressures[network.index.fetch(to)]
      end

      # @return [Hash{Symbol => Float}] mL/s at every outlet to air
      def outlets_at(time_s) = trajectory.flows_at(time_s, outlet_ids)

      # @return [Array<Symbol>] edges that lead to air
      def outlet_ids = @outlet_ids ||= Plumbing.outlet_ids(network)

      # @param edge [Symbol] of the network
      # @return [Float] mL/s, positive from its first node to its second or to air
      def flow_at(time_s, edge) = trajectory.flows_at(time_s, [edge])[edge]

      # Needle's rate of change, psi/s, over the last half second (or since the act).
      def rate_at(time_s)
        early = [time_s - 0.5, [from_s, state.water.time_s].max].max
        return 0.0 if time_s - early < 0.05

        (needle_at(time_s) - needle_at(early)) / (time_s - early)
      end

      # @param hose [Symbol]
      # @return [Float] fraction of it that is air, 0..1
      def air_in_hose(hose, time_s)
        position = network.hoses.index { |item| item.id == hose }
        water_at(time_s).hose_air[position]
      end
    end
  end
end
