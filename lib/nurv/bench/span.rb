# frozen_string_literal: true

module Nurv
  module Bench
    # The bench from one act until the next: a state, and the water running on from it.
    class Span
      # How often a digital face takes a reading. Estimate.
      SAMPLES_PER_S = 4.0

      attr_reader :state, :variant

      # @param course [Course, nil] of the water, handed on by an act that left it alone
      # @param before [Span, nil] that its water is still laid out for
      # @param running [Hydraulics::Trajectory::Running, nil] a moment of its water's way that is known already
      def initialize(variant, state, course = nil, before: nil, running: nil)
        @base = variant
        @variant = variant.after(state.changes)
        @state = state
        @course = course || Course.new(@variant, state)
        @course.known(running) if running
        @state = relaid(before) if before && otherwise_connected?(before.state)
      end

      # @return [Float] simulated seconds of the act it begins with
      def from_s = state.time_s

      # @return [Hydraulics::Network] pipes, valves and hoses as they are set here
      def network = course.network

      # @return [Hydraulics::Trajectory] the water from here on, worked out as far as it is asked for
      def trajectory = course.trajectory

      # @param action [Action]
      # @param new [Boolean] it is done now; false for one that stands in a log, and was done by the rules of its day
      # @return [Span] from that act on
      # @raise [RefusedAction]
      def after(action, new: true)
        changed = Hands.new(variant, self, new: new).apply(action)
        changed = changed.with(sampled_psid: sample_at(action.time_s)) if digital?
        action.paper? ? Span.new(@base, changed, course) : Span.new(@base, changed, before: self)
      end

      # Lets go of what can be worked out again.
      def forget = @course = @met = nil

      # What the next act found here, as it was worked out when it was done: it need not be worked out again.
      #
      # @param met [Met]
      # @return [Span] itself
      def meets(met)
        @met = met
        course.known(met.running) if met.running
        self
      end

      # @param time_s [Float] simulated seconds, not before #from_s
      # @return [Hydraulics::State] of the water at that moment
      def water_at(time_s)
        return @met.water if @met&.water && @met.time_s == time_s
        # As it begins, nothing has run yet.
        return state.water if time_s == state.water.time_s && state.water.complete?

        trajectory.state_at(time_s)
      end

      # @param time_s [Float] simulated seconds, not before #from_s
      # @return [Float] psid where the needle stands, lag and zero error included
      def needle_at(time_s) = trajectory.needle_at(time_s)

      # What the face shows: the frozen value if one was captured; a digital one its last sample.
      #
      # @return [Float, nil] psid; nil while it shows nothing
      def shown_at(time_s)
        return unless face.shows?(time_s)

        state.captured_psid || (digital? ? sample_at(time_s) : needle_at(time_s))
      end

      # @return [Face]
      def face = @face ||= Face.new(variant.station, state)

      # @return [Boolean] its face shows numbers, taken a few times a second, and no needle
      def digital? = face.digital?

      # @return [Float] psid as a digital face last took it; what it showed before until it takes one again
      def sample_at(time_s)
        return @met.sampled_psid if @met&.sampled_psid && @met.time_s == time_s

        taken_s = (time_s * SAMPLES_PER_S).floor / SAMPLES_PER_S
        (taken_s < from_s && state.sampled_psid) || needle_at([taken_s, from_s].max)
      end

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

      # An open test cock with nothing on it draws air in: what is behind it stands below the air outside.
      #
      # @param cock [Symbol]
      # @return [Boolean]
      def sucking_at?(time_s, cock)
        found = variant.station.assembly.test_cocks[cock] or return false
        return false unless state.position(cock, time_s).positive? && state.on_test_cock(cock).nil?

        pressure_at(time_s, found.node) < Units.head_psi(found.elevation_in) - Flow::HEARD_PSI
      end

      # @return [Hydraulics::Tracer] of its assembly
      def tracer = network.tracer

      # Needle's rate of change, psi/s, over the last half second (or since the act).
      def rate_at(time_s)
        early = [time_s - 0.5, [from_s, state.water.time_s].max].max
        return 0.0 if time_s - early < 0.05

        (needle_at(time_s) - needle_at(early)) / (time_s - early)
      end

      # @param hose [Symbol]
      # @return [Float] fraction of it that is air, 0..1
      def air_in_hose(hose, time_s)
        water_at(time_s).hose_air[variant.station.kit.hoses.keys.index(hose)]
      end

      private

      def course = @course ||= Course.new(variant, state)

      def otherwise_connected?(before)
        %i[hose_ends fittings gauge_in changes].any? { |name| before[name] != state[name] }
      end

      def relaid(before)
        new_on = (state.fittings.values - before.state.fittings.values).last
        laid =
          Relaying.new(
            before.network,
            network,
            lifted_in: state.gauge_in - before.state.gauge_in,
            fitted_in: new_on ? variant.station.assembly.test_cocks[new_on].elevation_in : 0.0
          )
        state.with(water: laid.water(state.water)).tap { |laid_out| @course.begins(laid_out) }
      end
    end
  end
end
