# frozen_string_literal: true

module Nurv
  module Bench
    # What an act met with: the water in the moment before it, as the bench had worked it out. Whoever does the same
    # acts again need not work that out a second time. Only ever a cache: the log says the same, to the last bit.
    class Met
      # Little that is graded looks farther back from an act, s; what does is worked out from the act before.
      LOOKED_BACK_S = 20.0
      # So many steps are worth keeping where they led to.
      LONG_STEPS = 200

      # time_s [Float] of the act; water [Hydraulics::State, nil] nil for an act that leaves the water alone;
      # sampled_psid [Float, nil] what a digital face showed, nil for one with a needle; running
      # [Hydraulics::Trajectory::Running, nil] a moment shortly before, where the water had run long by then
      attr_reader :time_s, :water, :sampled_psid, :running

      # @param action [Action] just done
      # @param span [Span] of the bench before it
      # @return [Met, nil] nil: nothing that takes long to work out
      def self.of(action, span)
        time_s = action.time_s
        running = span.trajectory.running(time_s - LOOKED_BACK_S)
        running = nil unless running && running.taken >= LONG_STEPS
        water = span.water_at(time_s) unless action.paper?
        sampled_psid = span.sample_at(time_s) if span.digital?
        return unless water || sampled_psid || running

        new(time_s: time_s, water: water, sampled_psid: sampled_psid, running: running)
      end

      def initialize(time_s:, water: nil, sampled_psid: nil, running: nil)
        @time_s = time_s
        @water = water
        @sampled_psid = sampled_psid
        @running = running
        freeze
      end
    end
  end
end
