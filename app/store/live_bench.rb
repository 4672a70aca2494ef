# frozen_string_literal: true

module Store
  # The bench of an attempt as it stands, kept warm between requests. May be thrown away at any time: log or snapshot bring
  # it back to the last bit.
  class LiveBench
    KEPT = 300
    # An act lands when the tester saw the bench that way, but no earlier than this before the server's clock.
    LATEST_ACK_MS = 3_000
    IDLE_MS = 20_000

    @benches = {}
    @lock = Mutex.new

    class << self
      # @param attempt [Attempt]
      # @return [LiveBench] brought up to the newest act on disk
      def of(attempt)
        bench = @lock.synchronize do
          @benches.shift if @benches.size >= KEPT && !@benches.key?(attempt.id)
          @benches[attempt.id] = @benches.delete(attempt.id) || new(attempt)
        end
        bench.catch_up(attempt)
        bench
      end

      def forget_all = @lock.synchronize { @benches.clear }
    end

    attr_reader :seq

    def initialize(attempt)
      @lock = Monitor.new
      @variant = attempt.variant
      @store = Attempts.new
      @seq, text = @store.snapshot(attempt)
      @span = text ? resume(text) : nil
      @seq ||= 0
    end

    # Everything that reads the bench does so in here, since looking ahead works on shared arrays.
    def look = @lock.synchronize { yield(@span ||= opening) }

    def catch_up(attempt)
      @lock.synchronize do
        next if @seq >= attempt.last_seq

        @store.actions_after(attempt, @seq).each do |action|
          @span = (@span || opening).after(action)
          @seq += 1
        end
      end
    end

    # Carries an act out: on the simulator first, then on disk, then in memory.
    #
    # @param data [Hash] kind and fields
    # @param seen_ms [Integer] simulated time the tester saw
    # @raise [Nurv::RefusedAction, Attempts::MovedOn]
    def act(attempt, data, id:, known_seq:, seen_ms:, wall_ms:)
      @lock.synchronize do
        return if @store.recorded?(attempt, id)
        raise Attempts::MovedOn, "The bench has moved on in another window." unless known_seq == @seq

        span = @span || opening
        now_ms = attempt.clock_ms(wall_ms)
        action = Nurv::Bench::Action.new({**data, id: id, at_ms: landing_ms(span, seen_ms, now_ms)})
        after = span.after(action)
        @store.append(attempt, action, known_seq, Nurv::Bench::Snapshot.dump(after.state))
        @span = after
        @seq += 1
      end
    end

    private

    def landing_ms(span, seen_ms, now_ms)
      earliest = [(span.from_s * 1000).round, now_ms - LATEST_ACK_MS].max
      seen_ms.clamp(earliest, [now_ms, earliest].max)
    end

    def opening = Nurv::Bench::Span.new(@variant, Openings.state(@variant))

    def resume(text) = Nurv::Bench::Span.new(@variant, Nurv::Bench::Snapshot.load(text))

    # Settled benches, by station and seed.
    module Openings
      CACHE = {}
      LOCK = Mutex.new
      private_constant :CACHE, :LOCK

      def self.state(variant)
        key = [variant.station.data, variant.seed]
        LOCK.synchronize { CACHE[key] } || Nurv::Bench::Opening.new(variant).state.tap do |state|
          LOCK.synchronize do
            CACHE.clear if CACHE.size > 500
            CACHE[key] = state
          end
        end
      end
    end
  end
end
