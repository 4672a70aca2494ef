# frozen_string_literal: true

module Store
  # One person at one bench: a row, and the core objects that its station, seed and clock stand for.
  class Attempt
    COLUMNS = %i[id station_id station_body instructor_id trainee_id seed mode policy status anchor_wall_ms anchor_sim_ms seen_wall_ms
      last_seq created_at started_at submitted_at published_at class_id exam_id position policy_body extra_ms skipped_ms paused_wall_ms
      retest_of comment needle_psid].freeze
    COLUMNS.each { |column| define_method(column) { @row[column] } }

    attr_reader :trainee_name, :progress

    # @param progress [Hash, nil] steps reached and alarms, where they were asked for
    def initialize(row, trainee_name: nil, progress: nil)
      @row = row
      @trainee_name = trainee_name
      @progress = progress
    end

    def station = @station ||= Stations.parse(@row[:station_body])

    def variant = @variant ||= Nurv::Scenarios::Variant.new(station, seed)

    # The policy this attempt is marked by, as it was when it was set.
    def grading_policy = @grading_policy ||= policy_body ? Nurv::Grading::Policy.parse(policy_body) : Nurv::Catalog.default.policies.fetch(policy.to_sym)

    def proctored? = mode == "proctor"

    def paused? = !paused_wall_ms.nil?

    # Time the tester has used, without what was skipped, ms.
    def used_ms(wall_ms) = clock_ms(wall_ms) - skipped_ms

    # @return [Integer, nil] ms the tester still has; nil without a limit
    def left_ms(wall_ms)
      limit = exam? && grading_policy.time_limit_min
      limit && [limit * 60_000 + extra_ms - used_ms(wall_ms), 0].max
    end

    # Simulated time at which work ends if it is ended now: no later than the time that was given, ms.
    def ends_ms(wall_ms) = [clock_ms(wall_ms), (left_ms(wall_ms) == 0) ? grading_policy.time_limit_min * 60_000 + extra_ms + skipped_ms : clock_ms(wall_ms)].min

    def overdue?(wall_ms) = started? && left_ms(wall_ms) == 0

    def may_skip? = !exam? || grading_policy.skip_waiting?

    def may_ask? = !exam? || grading_policy.hints?

    def exam? = mode == "exam"

    def started? = status == "started"

    def over? = %w[submitted published].include?(status)

    # A trainee sees a practice result at once, an exam's when it is published.
    def open_to_trainee? = mode == "practice" || status == "published"

    # Simulated time now, ms since the start.
    #
    # @param wall_ms [Integer]
    def clock_ms(wall_ms) = anchor_wall_ms ? [anchor_sim_ms + (paused_wall_ms || wall_ms) - anchor_wall_ms, 0].max : 0

    # Attempts share the text of their station; parsing it again for every request would be waste.
    module Stations
      CACHE = {}
      LOCK = Mutex.new
      private_constant :CACHE, :LOCK

      def self.parse(body)
        LOCK.synchronize do
          CACHE.clear if CACHE.size > 500
          CACHE[body] ||= Nurv::Scenarios::Station.parse(body)
        end
      end
    end
  end
end
