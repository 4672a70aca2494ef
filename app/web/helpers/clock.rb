# frozen_string_literal: true

module Web
  module Helpers
    # The wall clock, in one place.
    module Clock
      def wall_ms = Process.clock_gettime(Process::CLOCK_REALTIME, :millisecond)
    end
  end
end
