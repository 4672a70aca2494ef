# frozen_string_literal: true

module Nurv
  module Bench
    # Names of cocks and shutoffs at a station where the tester hangs them on: a tag each, numbered from the inlet. What
    # has none is called by where it is to be seen, from the left, whichever way the water flows.
    module Tags
      PLACES = {2 => %i[left right], 4 => %i[far_left left right far_right]}.freeze
      # Of an assembly that stands, from the top.
      HEIGHTS = {2 => %i[upper lower], 4 => %i[highest upper lower lowest]}.freeze

      module_function

      # @param station [Stations::Station]
      # @return [Array<Symbol>] what bears tags, and the tags there are: each is named after where it belongs
      def all(station) = sorts(station).flatten

      # @param station [Stations::Station]
      # @param control [Symbol]
      # @return [Array<Symbol>] tags that can hang there: those of its sort
      def for(station, control) = sorts(station).find { |sort| sort.include?(control) } || []

      # @param station [Stations::Station]
      # @return [Array<Symbol>] test cocks from the left, as they are seen
      def cocks_from_the_left(station) = from_the_left(station, station.assembly.test_cocks.keys)

      # @param station [Stations::Station]
      # @param tags [Hash{Symbol => Symbol}] control => the tag on it
      # @param words [Words]
      # @return [Hash{Symbol => String}] control => what it is called at the bench
      def names(station, tags, words)
        sorts(station).reduce({}) do |names, sort|
          seen = from_the_left(station, sort)
          kind = station.assembly.test_cocks.key?(sort.first) ? :cock : :shutoff
          sort.reduce(names) do |named, control|
            tag = tags[control]
            places = (station.standing? ? HEIGHTS : PLACES)[seen.size]
            named.merge(control => tag ? words.control(tag) : place(kind, seen.index(control), places, words))
          end
        end
      end

      def place(kind, index, places, words)
        place = places&.at(index) or return words.say(:"untagged.#{kind}_nth", number: index + 1)

        words.say(:"untagged.#{kind}_#{place}")
      end

      # @param by_hand [Boolean] the tester hangs tags there
      # @return [Words] with what things are called at this bench
      def words(station, state, by_hand)
        all = station.catalog.words
        by_hand ? all.calling(names(station, state.tags, all)) : all
      end

      def sorts(station) = [station.assembly.test_cocks.keys, station.assembly.shutoff_valves]

      def from_the_left(station, controls)
        along = controls.sort_by { |control| station.assembly.drawing.fetch(control)[:x] }
        station.to_the_left? ? along.reverse : along
      end
      private_class_method :sorts, :from_the_left, :place
    end
  end
end
