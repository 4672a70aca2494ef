# frozen_string_literal: true

module Nurv
  module Bench
    # What eyes, ears and people give a tester at a bench as it stands: facts, which a screen puts in place and in
    # words. The water's own movement is in Frames.
    class Sight
      # Things at every bench that one can look at; a site adds its own.
      THINGS = %i[
        plate
        arrow
        relief_port
        test_cocks
        kit_label
        gauge_zero
        hoses
        surroundings
        upstream_piping
        leaks
        meter
      ].freeze
      # What one says to people.
      TOPICS = %i[shutdown water_on result].freeze
      # A label and a needle are evidence enough: what is wrong with them is for the tester to see.
      EVIDENCE = %i[kit_label gauge_zero].freeze

      # id [Symbol]; shows [Symbol]: :corroded, :defect, :site or :usual; defect [Stations::Defect, nil] and site
      # [Stations::Site::Thing, nil] where it shows those; seen, noted [Boolean]
      Thing = Struct.new(:id, :shows, :defect, :site, :seen, :noted, keyword_init: true)
      # person [Stations::Site::Person]; open and said [Array<String>]: topics for them, not yet said and said
      Talk = Struct.new(:person, :open, :said, keyword_init: true)

      # @param station [Stations::Station]
      # @param state [State]
      def initialize(station, state)
        @station = station
        @state = state
      end

      # @return [Boolean] whether there is such a thing to look at
      def self.thing?(station, id) = THINGS.include?(id) || station.site.things.key?(id)

      # @return [Array<Thing>] all there is to look at, those of every bench first
      def things
        here = THINGS - (part?(:relief_valve) ? [] : [:relief_port])
        (here | @station.site.things.keys).map { |id| thing(id) }
      end

      # @return [Symbol, nil] what is to be watched at this assembly besides the gauge: :air_inlet or :relief_port
      def watched
        return :air_inlet if part?(:air_inlet)

        :relief_port if part?(:relief_valve)
      end

      # @return [Boolean] nothing on the plate can be read until it is cleaned
      def plate_corroded? = @station.plate_corroded? && !@state.looked.include?(:plate_cleaned)

      # @return [Boolean] the tester has written down that something is wrong there
      def noted?(id) = @state.findings.include?(id.to_s)

      # @return [Stations::Defect, nil] why the water may not be shut off here
      def refusal = @station.finding_at(:permission)

      # @return [Array<Talk>] one for each person here
      def people
        @station.site.people.values.map do |person|
          said = person.topics.select { |topic| @state.told.include?([person.id, topic.to_sym]) }
          Talk.new(person: person, open: person.topics - said, said: said)
        end
      end

      # @return [Array<Hash>] repairs done, as the state keeps them
      def repairs = @state.changes.select { |change| change[:kind] == "repair" }

      # @return [Array<Symbol>] hoses whose strainer is at the kit's end
      def turned_hoses = @state.turned_hoses

      private

      def part?(id) = @station.assembly.components.include?(id)

      def thing(id)
        unread = id == :plate && plate_corroded? && @state.looked.include?(:plate_corroded)
        defect = @station.finding_at(id) unless EVIDENCE.include?(id)
        site = @station.site.things[id]
        Thing.new(
          id: id,
          shows: unread ? :corroded : shows(defect, site),
          defect: defect,
          site: site,
          seen: unread || @state.looked.include?(id),
          noted: noted?(id)
        )
      end

      def shows(defect, site)
        return :defect if defect&.text

        site&.text ? :site : :usual
      end
    end
  end
end
