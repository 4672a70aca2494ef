# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Which water is where in an assembly: how much of each chamber has been past check valve 1, and how much past
    # shutoff valve 2, on the customer's side. In service both are nought upstream of where they are told; water that
    # goes back carries them along. Chambers are mixed through, flows are those at the ends of a step.
    class Tracer
      # Shares of an assembly in which nothing ever went back.
      CLEAN = [].freeze
      # Water that only gives way, mL/s, is no backflow.
      LEAST_ML_S = 1.0e-3

      # @param nodes [Array<Integer>] from supply to downstream
      # @param edges [Array] between each two of them, in order
      # @param volumes_ml [Array<Float>] in which what comes in is mixed
      # @param past_check [Integer] position of the first node behind check valve 1
      def initialize(nodes:, edges:, volumes_ml:, past_check:)
        @nodes = nodes
        @edges = edges
        @volumes_ml = volumes_ml
        @past_check = past_check
        @last = nodes.size - 1
        freeze
      end

      # @param shares [Array<Float>] as of the start: per node the share past the check, then per node that from
      #   downstream, then mL that went back through check valve 1: all that had passed it, and of it from downstream
      # @param before [Array<Float>] psi per node at the start
      # @param after [Array<Float>] psi per node at the end
      # @return [Array<Float>] shares at the end; CLEAN while nothing went back
      def carry(shares, before, after, dt)
        return CLEAN if shares.empty? && !back?(after)

        flows = @edges.map { |edge| (edge.flow(before) + edge.flow(after)) / 2.0 }
        moved(shares.empty? ? first : shares, flows, dt)
      end

      # @param shares [Array<Float>]
      # @param node [Integer] position along the assembly
      # @return [Float] 0..1 of what it holds that came from downstream
      def from_downstream(shares, node)
        return (node == @last) ? 1.0 : 0.0 if shares.empty?

        shares[@nodes.size + node]
      end

      # @return [Array(Float, Float)] mL that went back through check valve 1, and of it from downstream
      def gone_back_ml(shares) = shares.empty? ? [0.0, 0.0] : shares.last(2)

      # @return [Array<Integer>] nodes from supply to downstream
      attr_reader :nodes

      private

      def first
        count = @nodes.size
        Array.new(count) { |node| (node >= @past_check) ? 1.0 : 0.0 } +
          Array.new(count) { |node| (node == @last) ? 1.0 : 0.0 } + [0.0, 0.0]
      end

      # Only backwards through check valve 1 or shutoff valve 2 does anything come where it does not belong.
      def back?(pressures)
        gone?(@edges[@past_check - 1], pressures) || gone?(@edges[@last - 1], pressures)
      end

      def gone?(edge, pressures)
        pressures[edge.to] > pressures[edge.from] && edge.flow(pressures) < -LEAST_ML_S
      end

      def moved(shares, flows, dt)
        kept = shares.dup
        # What stands at the customer's end is what it is.
        node = 0
        while node < @last
          mix(node, kept, shares, flows, dt)
          # What passes a check has passed it.
          kept[node] = 1.0 if node >= @past_check
          node += 1
        end
        refresh(kept, flows, dt)
        count_back(kept, shares, flows, dt)
        kept.freeze
      end

      # What comes from before and from behind is mixed in.
      def mix(node, kept, shares, flows, dt)
        forward = node.zero? ? 0.0 : flows[node - 1]
        forward = 0.0 if forward < 0.0
        backward = flows[node]
        backward = (backward < 0.0) ? -backward : 0.0
        coming = forward + backward
        return if coming <= 0.0

        left = nil
        base = 0
        2.times do
          here = shares[base + node]
          mixed = 0.0
          mixed += forward * shares[base + node - 1] if forward > 0.0
          mixed += backward * shares[base + node + 1] if backward > 0.0
          mixed /= coming
          unless mixed == here
            left ||= Math.exp(-coming * dt / @volumes_ml[node])
            kept[base + node] = mixed + (here - mixed) * left
          end
          base += @nodes.size
        end
      end

      # The main washes what came back into it away again.
      def refresh(kept, flows, dt)
        return unless flows[0] > 0.0

        fading = Math.exp(-flows[0] * dt / @volumes_ml[0])
        kept[0] *= fading
        kept[@nodes.size] *= fading
      end

      def count_back(kept, shares, flows, dt)
        back = -flows[@past_check - 1] * dt
        return unless back > 0.0

        kept[-2] += back * shares[@past_check]
        kept[-1] += back * shares[@nodes.size + @past_check]
      end
    end
  end
end
