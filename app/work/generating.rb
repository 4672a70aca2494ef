# frozen_string_literal: true

module Work
  # A set of stations made from a seed, each tried by a correct tester.
  class Generating
    # @param data [Hash] of the job
    # @param stores [Store::Cabinet]
    def initialize(data, stores)
      @stores = stores
      @procedure = data.fetch(:procedure).to_sym
      @difficulty = data.fetch(:difficulty).to_sym
      @seed = data.fetch(:seed)
      @count = data.fetch(:count)
    end

    def call(job)
      owner = @stores.users.find(job.owner_id)
      catalog = @stores.catalogs.of(owner)
      stations =
        Nurv::Expert::Generator
          .new(catalog.procedures.fetch(@procedure), @difficulty, @seed, catalog)
          .stations(@count) { |done| yield(done, @count) }
      rows = @stores.stations
      # All of them or none, so that doing it again after a restart makes no second set.
      @stores.database.transaction { stations.each { |station| rows.create(owner, station.to_yaml) } }
      {
        to: "/stations?q=#{@difficulty}",
        words: "#{@count} #{(@count == 1) ? "station" : "stations"} made from seed #{@seed}."
      }
    end
  end
end
