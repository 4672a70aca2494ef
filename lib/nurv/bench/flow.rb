# frozen_string_literal: true

module Nurv
  module Bench
    # What an eye makes of water that leaves an opening.
    module Flow
      # The least of each sort, mL/s, the most first. A drip is about a drop a second.
      LEAST = {jet: 50.0, stream: 8.0, trickle: 1.0, drip: 0.05}.freeze
      LEAST_SEEN = LEAST.values.min

      # What an opening says that lets nothing out.
      DRY = :dry
      # What an open cock says that lets no water out and draws air in.
      SUCKING = :sucking
      # Less than that below the air is not heard, psi. Estimate.
      HEARD_PSI = 0.1

      module_function

      # @param flow_ml_s [Float]
      # @return [Symbol] :dry, :drip, :trickle, :stream or :jet
      def seen(flow_ml_s)
        # Most openings are dry most of the time.
        return DRY if flow_ml_s < LEAST_SEEN

        LEAST.find { |_, least| flow_ml_s >= least }.first
      end
    end
  end
end
