# frozen_string_literal: true

module Work
  # One drill's bench, made ready for whoever presses next.
  class Preparing
    # @param data [Hash] of the job
    # @param stores [Store::Cabinet]
    def initialize(data, stores)
      @stores = stores
      @class_id = data.fetch(:class_id)
      @drill = data.fetch(:drill).to_sym
    end

    # @return [Hash] as Benches::Drills takes it up; empty where this drill is not to be had any more
    def call(job)
      drills = Benches::Drills.new(@stores, nil)
      course = @stores.classes.find(@stores.users.find(job.owner_id), @class_id)
      ready = course && drills.make(course, drills.all.fetch(@drill)) or return {}
      {way: ready.way, station: ready.station.to_yaml, acts: ready.acts.map(&:to_h)}
    end
  end
end
