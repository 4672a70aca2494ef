# frozen_string_literal: true

module Web
  # The part of a bench's screen that looks around and talks: things, people, parts to be mended, and what can be done
  # about each.
  module BenchSight
    Thing = Struct.new(:id, :label, :text, :seen, :noted, keyword_init: true)

    def sight = @sight ||= Nurv::Bench::Sight.new(station, state)

    def things
      sight.things.map do |thing|
        Thing.new(
          id: thing.id,
          label: thing.site&.label || words.look(thing.id),
          text: text_of(thing),
          seen: thing.seen,
          noted: thing.noted
        )
      end
    end

    def plate_unreadable? = sight.plate_corroded?

    # What the needle shows with both ports open to air.
    def at_rest_psid = station.zero_error_psid

    def repairs? = station.repairs?

    def repaired? = sight.repairs.any?

    def repaired_parts =
      sight.repairs.map { |change| words.repairs([change.values_at(:component, :action)], catalog.repairs) }

    def parts_to_repair = (assembly.components + assembly.shutoff_valves).map { |part| [part, words.part(part)] }

    def catalog = station.catalog

    def ways_to_repair = catalog.repairs.values

    def noted?(thing) = sight.noted?(thing)

    def refused = sight.refusal&.text

    # @return [Array<Array(Person, Array<String>, Array<String>)>] person, what is still to be said, what was
    def people = sight.people.map(&:to_a)

    def says(person, topic) = person.says&.[](topic.to_sym) || words.topic(topic)

    def reply(person, topic)
      own = person.replies&.[](topic.to_sym)
      return own if own
      return refused if refused && topic == "shutdown"

      {
        "shutdown" => "“Go ahead. Call me before it comes back on.”",
        "water_on" => "“Right, everything here is shut. Go on.”",
        "result" => "“Thank you.”"
      }.fetch(topic)
    end

    # --- what can be done about it

    # @return [Array<BenchButtons::Button>] a look at each thing not looked at yet
    def unseen_acts(things) =
      things.map { |thing| sight_act(thing.label, {kind: "look", at: thing.id}, id: "look_#{thing.id}") }

    # @return [Array<BenchButtons::Button>] what the adopted procedure asks for that no needle shows
    def own_acts =
      own_steps
        .reject { |step| state.declared.include?(step.id) }
        .map { |step| sight_act("#{step.title}: done", {kind: "declare", what: step.id}, id: "declare_#{step.id}") }

    # @return [Array<Nurv::Procedures::Step>] steps of an authority's own that the tester says are done
    def own_steps = procedure.steps.select { |step| step.own? && step.declared? }

    # @return [Array<BenchButtons::Button>] looking again, cleaning
    def thing_acts(thing)
      list = [
        sight_act("Again", {kind: "look", at: thing.id}, id: "look_#{thing.id}", aria: "Look again: #{thing.label}")
      ]
      if thing.id == :plate && plate_unreadable?
        list << sight_act("Clean it", {kind: "clean", at: "plate"}, id: "clean_plate", look: "btn-main btn-sm")
      end
      list
    end

    # @return [Array<Nurv::Stations::Defect>] what can be wrong there, at any station
    def possible(thing) = station.catalog.findings.values.select { |finding| finding.at == thing.id }

    # @return [String, nil] what was noted as wrong there
    def noted_as(thing)
      as = state.found_as[thing.id]
      as && station.catalog.findings[as]&.label
    end

    def permission_acts =
      [sight_act("Note: no permission", {kind: "find", finding: "permission"}, id: "find_permission")]

    # @param open [Array<String>] topics not said yet
    def talk_acts(person, open) =
      open.map do |topic|
        sight_act(
          "“#{says(person, topic)}”",
          {kind: "tell", person: person.id, topic: topic},
          id: "tell_#{person.id}_#{topic}",
          look: "btn-quiet"
        )
      end

    private

    def sight_act(label, fields, id:, look: "btn-quiet btn-sm", aria: nil) =
      BenchButtons::Button.new(label: label, fields: fields, id: id, look: look, aria: aria)

    def text_of(thing)
      case thing.shows
      when :corroded then "Corroded; nothing can be read. Clean it first."
      when :defect then thing.defect.text
      when :site then thing.site.text
      else standard_text(thing.id)
      end
    end

    def standard_text(id)
      case id
      when :plate
        "#{station.plate[:make]} #{station.plate[:model]}, #{station.plate[:type]}, #{station.plate[:size]}, " \
          "serial #{station.plate[:serial]}."
      when :arrow
        "The arrow on the body points #{"from SOV1 to SOV2, " unless tagged_by_hand?}" \
          "#{way_of_flow}. " \
          "#{station.site.place}."
      when :relief_port
        # Once looked at; what it does since, only eyes on it see.
        (glimpse || !port_unseen?) ? "Relief port: #{glimpse || relief_word}." : "Relief port: looked at."
      when :test_cocks
        "Caps on, threads clean. Above #{datum}: #{heights}."
      when :kit_label
        "Kit #{station.kit_state[:serial]}, accuracy last checked #{station.kit_state[:checked_on]}."
      when :gauge_zero
        at_rest = Nurv::Units.number(at_rest_psid, unit: unit)
        "Both ports open to air, the needle stands at #{at_rest}; all kit valves as drawn."
      when :meter
        if station.meter
          "Meter #{station.meter[:number]}, reading #{station.meter[:reading]}."
        else
          "A sealed meter; nobody asked for its reading here."
        end
      when :hoses
        "Hoses sound, washers and test cock adapters in place. #{strainers}"
      when :leaks
        "Joints, packings and caps: no leak to be seen."
      else
        "Nothing out of the ordinary."
      end
    end

    # What is measured of it, whatever it is good for.
    def heights
      levels = assembly.told_levels.reject { |level| level.elevation_in.zero? }.sort_by(&:elevation_in)
      # Not by names that are still to be found.
      levels.reject! { |level| level.id.start_with?("test_cock") } if tagged_by_hand?
      told = levels.map { |level| [level.label, level.elevation_in] }
      told += cocks.map { |cock| [words.control(cock), assembly.test_cocks[cock].elevation_in] } if tagged_by_hand?
      told.map { |name, inches| "#{name} #{format("%g", inches)} in" }.join(", ")
    end

    def way_of_flow
      return station.to_the_left? ? "upwards" : "downwards" if station.standing?

      station.to_the_left? ? "to the left" : "to the right"
    end

    def strainers
      wrong = sight.turned_hoses.map { |hose| kit.hoses[hose].name.downcase }
      wrong.empty? ? "Strainers at the assembly's ends." : "Strainer at the kit's end: #{wrong.join(", ")}."
    end
  end
end
