# frozen_string_literal: true

module Nurv
  module Stations
    # Where the assembly stands: the people to talk to and the things there are to look at.
    class Site
      Person = Struct.new(:id, :name, :role, :topics, :says, :replies, keyword_init: true)
      Thing = Struct.new(:id, :label, :text, :finding, keyword_init: true)

      attr_reader :id, :name, :place, :service, :hazard, :people, :things

      # @param data [Hash] as in data/sites
      def initialize(data)
        @id = data[:id].to_sym
        @name = data[:name]
        @place = data[:place]
        @service = data[:service]
        @hazard = data[:hazard]
        @fire = data.fetch(:fire, false)
        @people = data[:people].to_h { |person| [person[:id].to_sym, Person.new(**person, id: person[:id].to_sym)] }
        @things = data[:things].to_h { |thing| [thing[:id].to_sym, Thing.new(**thing, id: thing[:id].to_sym)] }
        freeze
      end

      # @return [Boolean] fire protection hangs on it
      def fire? = @fire
    end
  end
end
