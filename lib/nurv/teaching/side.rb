# frozen_string_literal: true

module Nurv
  module Teaching
    # One side of the gauge at a moment: the place whose pressure it feels, what runs into it and out of it, and how
    # fast its pressure moves for that.
    class Side
      # What passes a way, mL/s, into the place positive. `shut` [Boolean]: it should hold and does not.
      Flow = Struct.new(:way, :ml_s, :shut, :air, keyword_init: true)
      # Less is not spoken of, mL/s.
      LEAST_ML_S = 0.02
      # A pressure that moves less than this stands, psi/s.
      STILL_PSI_PER_S = 0.008
      # Rates are taken over so long, s.
      OVER_S = 0.02
      # Shares: what is left over is nothing, and in and out are as good as equal.
      NOTHING = 0.01
      BALANCED = 0.05
      # Chambers of an assembly in the order in which a place is called after them.
      NAMED = %i[inlet zone body outlet downstream supply].freeze
      # What is worth saying of that it is shut.
      HOLDS = /\A(check_valve|relief_valve|shutoff_valve|air_inlet)/

      attr_reader :name, :rise_psi_s, :flows, :shut, :capacitance_ml_psi, :dragged_ml_s

      # @param span [Bench::Span]
      # @param time_s [Float]
      # @param chamber [Integer] node of the gauge's side
      # @param now [Moment]
      def initialize(span, time_s, chamber, now)
        @span = span
        @network = span.network
        @time_s = time_s
        @now = now
        @nodes = now.places.around(chamber)
        @rise_psi_s = now.rates[chamber]
        @name = name_of_place
        @flows = crossing.reject { |flow| flow.ml_s.abs < LEAST_ML_S }.sort_by { |flow| -flow.ml_s.abs }
        @shut = crossing.select { |flow| flow.ml_s.abs < LEAST_ML_S && HOLDS.match?(flow.way.to_s) }.map(&:way)
        weigh
      end

      # A moment's numbers that both sides share.
      Moment = Struct.new(:state, :pressures, :rates, :places)

      # @return [Moment]
      def self.moment(span, time_s)
        trajectory = span.trajectory
        state = trajectory.state_at(time_s)
        pressures = trajectory.pressures_at(time_s)
        later = trajectory.pressures_at(time_s + OVER_S)
        rates = pressures.zip(later).map { |before, after| (after - before) / OVER_S }
        # Asking for a flow sets every control to where it stands then.
        trajectory.volumes_at(time_s, [])
        Moment.new(state, pressures, rates, Places.new(span.network, state, pressures))
      end

      # @return [Float] mL/s that come in less those that go out
      def net_ml_s = @flows.sum(0.0, &:ml_s)

      # @return [Float] mL/s that come in
      def in_ml_s = @flows.map(&:ml_s).select(&:positive?).sum(0.0)

      # @return [Float] mL/s that go out
      def out_ml_s = -@flows.map(&:ml_s).select(&:negative?).sum(0.0)

      # @return [Boolean] the main stands behind it
      def fed_by_main? = @network.sources.any? { |source| @nodes.include?(source.to) }

      # @return [Boolean] no chamber of the assembly is in it
      def cut_off? = @name.nil?

      # @return [Boolean]
      def still? = @rise_psi_s.abs < STILL_PSI_PER_S

      # What comes in goes out again: nearly, or so that the pressure stands.
      def balanced?
        return false if @flows.empty?

        net_ml_s.abs < BALANCED * [in_ml_s, out_ml_s].max || (still? && [in_ml_s, out_ml_s].all?(&:positive?))
      end

      # @return [Array<Flow>] those that make it what it is, the largest first
      def told
        rest = [net_ml_s.abs, BALANCED * (in_ml_s + out_ml_s)].max * NOTHING
        @flows.reject { |flow| flow.ml_s.abs < rest }
      end

      # @return [Float] greatest share of air in a hose of this side
      def air_share =
        @network.hoses.each_index.select { |hose| @nodes.include?(@network.hoses[hose].node) }
          .map { |hose| @now.state.hose_air[hose] }
          .max || 0.0

      private

      # Called after the chamber of the assembly that its water comes from.
      def name_of_place =
        NAMED.find { |id| (node = @network.index[id]) && @nodes.include?(node) }

      def crossing
        @crossing ||=
          @network.edges.filter_map do |edge|
            inside = [edge.from, edge.to].map { |node| @nodes.include?(node) }
            next if inside.all? || inside.none?

            flow = edge.flow(@now.pressures)
            Flow.new(
              way: edge.id,
              ml_s: inside.first ? -flow : flow,
              shut: lets_by?(edge, flow),
              air: edge.to_air?
            )
          end
      end

      # It stands shut, or ought to, and water passes all the same.
      def lets_by?(edge, flow)
        return false if flow.abs < LEAST_ML_S
        return flow.negative? || @now.pressures[edge.from] - @now.pressures[edge.to] < edge.spring_psid if check?(edge)
        return edge.follow(@now.pressures) <= 0.0 if edge.is_a?(Hydraulics::ReliefValve)

        control = @span.state.controls[edge.id]
        !control.nil? && control.position(@time_s) <= 0.0
      end

      def check?(edge) = edge.is_a?(Hydraulics::CheckValve)

      # How much water a psi takes, and what a disc between two sides carries over.
      def weigh
        @capacitance_ml_psi = @nodes.sum { |node| capacitance(node) }
        @dragged_ml_s = 0.0
        @network.cross_capacitances.each do |from, to, ml_psi|
          inside = [from, to].map { |node| @nodes.include?(node) }
          next if inside.all? || inside.none?

          @capacitance_ml_psi += ml_psi
          @dragged_ml_s += ml_psi * @now.rates[inside.first ? to : from]
        end
      end

      def capacitance(node)
        item = @network.nodes[node]
        psi = @now.pressures[node]
        hose = @network.hoses.index { |one| one.node == node }
        own = @network.capacitance(node, @now.state) + item.pocket_capacitance(psi)
        hose ? own + air_capacitance(hose, psi) : own
      end

      def air_capacitance(hose, psi)
        return @network.hoses[hose].gap_capacitance if @network.gap?(hose, @now.state)

        air = @now.state.hose_air[hose]
        free = Hydraulics::Hose::VOLUME_ML * air
        Hydraulics::Air.capacitance(free, psi + @network.air_offset_psi(hose, air))
      end
    end
  end
end
