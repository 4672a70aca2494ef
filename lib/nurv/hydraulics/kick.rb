# frozen_string_literal: true

module Nurv
  module Hydraulics
    # What water that is stopped short leaves in the gauge for a moment.
    #
    # s′ = −s/1.2 + c·(dq/dt)²: the faster a flow past the gauge is cut off, the more of its momentum is left as a
    # pressure in the chamber it ran from. A valve of the kit that is turned shut leaves it on its own side; a shutoff
    # valve slammed against a flow sends it down the line, and the high side feels it first. Fades with 1.2 s, is never
    # more than 0.5 psid, and moves no water. Source: estimate of how long and how far, not a model of the wave.
    class Kick
      FADES_S = 1.2
      MOST_PSID = 0.5
      # psid·s³/mL², of a kit's valve and of a shutoff valve in the line.
      AT_KIT = 3.0e-5
      IN_LINE = 4.0e-6
      # Less than this is nothing.
      LEAST_PSID = 1.0e-4

      # @param network [Network]
      def initialize(network)
        @network = network
        @closing = network.turned.filter_map { |edge| closing(edge) }
        @until_s = @closing.map { |item| until_s(item[:edge]) }.max || 0.0
      end

      # @param start [State] of a step
      # @param pressures [Array<Float>] at its end
      # @return [Float] psid that it leaves
      def after(start, pressures, dt)
        kick = start.kick_psid
        return 0.0 if kick.abs < LEAST_PSID && start.time_s >= @until_s

        kick *= Math.exp(-dt / FADES_S)
        kick += gained(start, pressures, dt) if start.time_s < @until_s
        kick.clamp(-MOST_PSID, MOST_PSID)
      end

      private

      # A valve on its way shut, and which way what it leaves pushes the needle.
      def closing(edge)
        return unless edge.is_a?(Passage)
        return unless edge.turning.any? { |ramp| ramp.to < ramp.from && ramp.end_s > ramp.start_s }

        gauge = @network.gauge
        if edge.is_a?(KitPassage)
          high = edge.from == gauge.high || edge.to == gauge.high
          low = edge.from == gauge.low || edge.to == gauge.low
          return if high == low

          {edge: edge, weight: high ? AT_KIT : -AT_KIT}
        elsif edge.id.to_s.start_with?("shutoff_valve")
          {edge: edge, weight: IN_LINE}
        end
      end

      def until_s(edge) = edge.turning.map(&:end_s).max

      def gained(start, pressures, dt)
        @closing.sum(0.0) do |item|
          edge = item[:edge]
          next 0.0 unless start.time_s < until_s(edge)

          edge.at(start.time_s)
          before = edge.flow(start.pressures)
          edge.at(start.time_s + dt)
          cut = (before.abs - edge.flow(pressures).abs) / dt
          (cut > 0.0) ? item[:weight] * cut * cut * dt : 0.0
        end
      end
    end
  end
end
