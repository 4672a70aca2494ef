# frozen_string_literal: true

module Web
  # A site of an instructor's own: the place, what is served there, who is to be asked, and what there is to see.
  class SiteForm < Form
    PEOPLE = 3
    # What there is to see at every site, as a finding may be at it.
    THINGS = {surroundings: "Surroundings", upstream_piping: "Piping before the assembly"}.freeze

    # @param site [Nurv::Stations::Site, nil] to be changed
    def self.of(site)
      return new({"hazard" => "high", "role_0" => "building manager"}) unless site

      raw = {"id" => site.id.to_s, "name" => site.name, "place" => site.place, "service" => site.service}
      raw = raw.merge("hazard" => site.hazard, "fire" => site.fire? ? "1" : "")
      site.people.values.first(PEOPLE).each_with_index do |person, index|
        raw = raw.merge("person_#{index}" => person.name, "role_#{index}" => person.role)
      end
      THINGS.keys.each { |id| raw = raw.merge("see_#{id}" => site.things[id]&.text.to_s) }
      new(raw)
    end

    # @return [Hash] of the shape Nurv::Shapes::Site
    def data
      {
        id: id,
        name: self[:name],
        place: self[:place],
        service: self[:service],
        hazard: (self[:hazard] == "low") ? "low" : "high",
        fire: self[:fire] == "1",
        people: people,
        things: THINGS.map { |thing, label| {id: thing.to_s, label: label, text: self["see_#{thing}"]} }
      }
    end

    # @return [String] made of its name, or that it has already
    def id = id_from(:name)

    private

    # Each of them relies on the water: who is not told is missed.
    def people =
      (0...PEOPLE).reject { |index| self["person_#{index}"].empty? }.map do |index|
        {
          id: "person_#{index + 1}",
          name: self["person_#{index}"],
          role: self["role_#{index}"],
          topics: %w[shutdown water_on]
        }
      end

    def check
      need(:name, "Say what the place is called.", most: 80)
      need(:place, "Say where the assembly stands.", most: 120)
      need(:service, "Say what the water serves.", most: 120)
      need(:person_0, "Name somebody who must be asked before the water goes off.", most: 80)
      (0...PEOPLE).reject { |index| self["person_#{index}"].empty? }.each do |index|
        need(:"role_#{index}", "Say what they are there.", most: 80)
      end
      THINGS.each_key { |thing| need(:"see_#{thing}", "Say what there is to see.", most: 400) }
    end
  end
end
