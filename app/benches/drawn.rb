# frozen_string_literal: true

module Benches
  # Puts a trainee at a station that was drawn for them and stands in nobody's list, with something done there already.
  class Drawn
    # What is kept of such a station.
    Made = Struct.new(:station, :catalog, keyword_init: true) do
      def id = nil

      def title = station.title

      def body = station.to_yaml
    end
    private_constant :Made

    # @param stores [Store::Cabinet]
    # @param keeper [Keeper]
    def initialize(stores, keeper)
      @stores = stores
      @keeper = keeper
    end

    # @param station [Nurv::Stations::Station]
    # @param course [Store::Classes::Course] whose instructor's policy it is marked by
    # @param pause_ms [Integer] simulated time between what was done and the trainee
    # @param more [Hash] columns besides
    # @yieldparam attempt [Store::Attempt]
    # @yieldreturn [Array<Nurv::Bench::Action>] what is done there already
    # @return [Store::Attempt] begun
    def put(station, trainee, course, wall_ms, pause_ms: 0, **more)
      teacher = @stores.users.find(course.owner_id)
      attempt =
        @stores.attempts.create(
          station_row: Made.new(station: station, catalog: station.catalog),
          instructor: teacher,
          trainee: trainee,
          mode: "practice",
          seed: 1,
          policy: @stores.policies.usual(teacher),
          course: course,
          status: Store::Status::LEFT,
          **more
        )
      acts = yield(attempt)
      @keeper.of(attempt).do_again(attempt, acts)
      at_ms = acts.empty? ? 0 : acts.last.at_ms + pause_ms
      @stores.attempts.put_in_place(attempt, attempt, at_ms: at_ms, wall_ms: wall_ms, drill_from: acts.size)
    end
  end
end
