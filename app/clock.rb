# frozen_string_literal: true

# The wall clock, in one place, so that a test can set it.
module Clock
  REAL = -> { Process.clock_gettime(Process::CLOCK_REALTIME, :millisecond) }

  class << self
    # @return [Integer] ms since the epoch
    def wall_ms = source.call

    # @return [Time] in UTC
    def now = Time.at(0, wall_ms, :millisecond).utc

    # @param callable [#call] wall time in ms
    attr_writer :source

    def source = @source || REAL
  end
end
