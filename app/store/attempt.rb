# frozen_string_literal: true

module Store
  # One person at one bench: a row, and the core objects that its station, seed and clock stand for.
  class Attempt
    COLUMNS = %i[id station_id instructor_id trainee_id seed mode policy status anchor_wall_ms anchor_sim_ms seen_wall_ms
      last_seq created_at started_at submitted_at published_at].freeze
    COLUMNS.each { |column| define_method(column) { @row[column] } }

    attr_reader :trainee_name

    def initialize(row, trainee_name: nil)
      @row = row
      @trainee_name = trainee_name
    end

    def station = @station ||= Stations.parse(@row[:station_body])

    def variant = @variant ||= Nurv::Scenarios::Variant.new(station, seed)

    def exam? = mode == "exam"

    def started? = status == "started"

    def over? = %w[submitted published].include?(status)

    # A trainee sees a practice result at once, an exam's when it is published.
    def open_to_trainee? = !exam? || status == "published"

    # Simulated time now, ms since the start.
    #
    # @param wall_ms [Integer]
    def clock_ms(wall_ms) = anchor_wall_ms ? [anchor_sim_ms + wall_ms - anchor_wall_ms, 0].max : 0

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
