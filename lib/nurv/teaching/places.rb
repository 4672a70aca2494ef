# frozen_string_literal: true

module Nurv
  module Teaching
    # Which chambers of a network stand at one pressure just now and move together, so that they can be spoken of as one
    # place: a hose with the cock it hangs on and the gauge's chamber behind it.
    class Places
      # Wide open and next to no drop across it.
      WIDE_K = 3.0
      LEVEL_PSI = 0.05
      # A chamber that follows another: so much of what it feels comes from there, and so quickly, s.
      SHARE = 0.75
      FOLLOWS_S = 0.3
      # Slope of a passage at no drop is not without end, psi.
      LEAST_DROP_PSI = 1.0e-4
      private_constant :WIDE_K, :LEVEL_PSI, :SHARE, :FOLLOWS_S, :LEAST_DROP_PSI

      # @param network [Hydraulics::Network] set to the moment
      # @param state [Hydraulics::State]
      # @param pressures [Array<Float>] psi per node
      def initialize(network, state, pressures)
        @network = network
        @state = state
        @pressures = pressures
        @passages = network.edges.select { |edge| edge.is_a?(Hydraulics::Passage) && !edge.to_air? }
        @groups = joined
      end

      # @param node [Integer]
      # @return [Array<Integer>] it and those that move with it
      def around(node) = @groups.find { |group| group.include?(node) }

      private

      def joined
        groups = Array.new(@network.size) { |node| [node] }
        @passages.each do |edge|
          next unless one_place?(edge)

          from, to = [edge.from, edge.to].map { |node| groups.find { |group| group.include?(node) } }
          next if from.equal?(to)

          groups.delete(to)
          from.concat(to)
        end
        groups
      end

      def one_place?(edge)
        return false unless edge.conductance > 0.0
        return true if edge.conductance > WIDE_K && drop(edge) < LEVEL_PSI

        [edge.from, edge.to].any? { |node| follows?(node, edge) }
      end

      def follows?(node, edge)
        own = slope(edge)
        own >= SHARE * slopes[node] && @network.capacitance(node, @state) < FOLLOWS_S * own
      end

      # mL/s per psi of all that leads to each node.
      def slopes
        @slopes ||=
          @network.nodes.each_index.map do |node|
            @network.edges.select { |edge| edge.from == node || edge.to == node }.sum { |edge| slope(edge) }
          end
      end

      def slope(edge)
        return edge.conductance / Math.sqrt([drop(edge), LEAST_DROP_PSI].max) if edge.is_a?(Hydraulics::Passage)

        edge.flow(@pressures).abs
      end

      def drop(edge)
        far = edge.to_air? ? edge.air_psi : @pressures[edge.to]
        (@pressures[edge.from] - far).abs
      end
    end
  end
end
