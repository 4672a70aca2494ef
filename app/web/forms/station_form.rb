# frozen_string_literal: true

module Web
  # A station as it is being built: fields on a page, one to one with the keys of a station file.
  class StationForm < Form
    FEWEST_ROWS = 3
    # What a station file may say that has no field here: carried along as it was.
    CARRIED = {
      line: %i[back_pressure_psi],
      kit: %i[height_in cracked_open strainer_at_kit stored sleeps_after_s]
    }.freeze
    # What is on the test cocks, as a station file has it.
    OUTFITS = {
      "bare" => {},
      "capped" => {capped: true},
      "adapters" => {adapters: true},
      "both" => {capped: true, adapters: true}
    }.freeze
    RANGE = /\A(-?\d+(?:[.,]\d+)?)\s*(?:to|–|-|\.\.)\s*(\d+(?:[.,]\d+)?)\z/
    PLACES = {
      "line.pressure_psi" => :pressure,
      "line.swing_psi" => :swing,
      "line.demand" => :demand,
      "kit.checked_on" => :checked_on,
      "date" => :date,
      "kit.zero_error_psid" => :zero_error,
      "plate.make" => :make,
      "plate.model" => :model,
      "plate.size" => :plate_size,
      "plate.serial" => :serial,
      "size_in" => :size_in,
      "direction" => :direction,
      "procedures" => :procedures
    }.freeze

    # @param station [Nurv::Stations::Station] fields as they are in a station
    def self.of(station)
      data = station.data
      raw = {
        "title" => data[:title],
        "assembly" => data[:assembly],
        "site" => data[:site],
        "size_in" => data.fetch(:size_in, 1).to_s,
        "make" => data[:plate][:make],
        "model" => data[:plate][:model],
        "plate_size" => data[:plate][:size],
        "serial" => data[:plate][:serial],
        "pressure" => words(data[:line][:pressure_psi]),
        "swing" => words(data[:line][:swing_psi] || 0),
        "demand" => words(data[:line][:demand] || 0),
        "kit" => data[:kit][:id],
        "face" => data[:kit][:face] || "analogue",
        "kit_serial" => data[:kit][:serial],
        "checked_on" => data[:kit][:checked_on].to_s,
        "date" => station.date,
        "zero_error" => words(data[:kit][:zero_error_psid] || 0),
        "procedures" => data[:procedures],
        "findings" => data[:findings] || [],
        "direction" => data[:direction] || "to_the_right",
        "tags" => data[:tags] || "hung",
        "plate_state" => data[:plate_state] || "clean",
        "after_failure" => data[:after_failure] || "report",
        "found_1" => data[:line][:shutoff_valve_1] || "open",
        "found_2" => data[:line][:shutoff_valve_2] || "open",
        "debris" => (data[:debris] || []).map(&:to_s),
        "weeping" => (data[:weeping] || []).map(&:to_s),
        "outfit" => outfit(station),
        "power" => data[:kit][:power] || "running",
        "in_the_dark" => data[:kit][:in_the_dark] ? "1" : "",
        "meter_number" => data.dig(:meter, :number).to_s,
        "meter_reading" => data.dig(:meter, :reading).to_s,
        "varies" => data[:varies] ? "1" : ""
      }
      station.springs_psid.merge(station.openings_psid).each { |part, value| raw["n_#{part}"] = words(value) }
      raw.merge!(fault_rows(data[:faults] || []), "carried" => JSON.generate(carried(data)))
      new(raw, station.assembly, station.catalog)
    end

    def self.outfit(station)
      on = {capped: station.capped?, adapters: station.adapters?}.select { |_, there| there }
      OUTFITS.key(on)
    end

    def self.carried(data)
      sections =
        CARRIED.to_h { |section, keys| [section, data[section].slice(*keys)] }.reject { |_, values| values.empty? }
      data.slice(:note).merge(sections)
    end

    # Faults as rows of a form; a list that rows cannot say is carried along.
    def self.fault_rows(faults)
      drawn = faults.size == 1 && faults[0][:one_of]
      return {"faults_by_hand" => JSON.generate(faults)} if !drawn && faults.any? { |item| item[:one_of] }

      list = drawn ? faults[0][:one_of].reject { |item| item[:id] == "none" } : faults
      rows =
        list
          .each_with_index
          .flat_map { |item, index| [["fault_#{index}", item[:id]], ["severity_#{index}", item[:severity]]] }
          .to_h
      if drawn
        rows.merge("draw" => "1", "draw_none" => (faults[0][:one_of].any? { |item| item[:id] == "none" }) ? "1" : "")
      else
        rows
      end
    end

    def self.words(value) = value.is_a?(Hash) ? "#{value[:from]} to #{value[:to]}" : format("%g", value)

    # A healthy one to start from.
    #
    # @param assembly [Nurv::Equipment::Assembly]
    # @param catalog [Nurv::Catalog]
    # @param site [String] of a site; one that suits, without it
    def self.fresh(assembly, catalog, site: "")
      place = catalog.sites[site.to_sym] || catalog.sites.values.find { |one| assembly.suits?(one.hazard) }
      kind = catalog.procedures.values.find { |procedure| procedure.assembly == assembly.id }
      raw = {
        "title" => "",
        "assembly" => assembly.id.to_s,
        "site" => place.id.to_s,
        "size_in" => "1",
        "make" => "Karrow & Finch",
        "model" => "Breakwater 1",
        "plate_size" => "1 in",
        "serial" => "KF-#{rand(10_000..99_999)}",
        "pressure" => "60",
        "swing" => "0",
        "demand" => "0.02",
        "kit" => kind.kits.first.to_s,
        "face" => "analogue",
        "kit_serial" => "NK-517",
        "checked_on" => (Date.today << 6).iso8601,
        "date" => Date.today.iso8601,
        "zero_error" => "0",
        "procedures" => [kind.id.to_s],
        "findings" => [],
        "direction" => "to_the_right",
        "tags" => "hung",
        "plate_state" => "clean",
        "after_failure" => "report",
        "found_1" => "open",
        "found_2" => "open",
        "debris" => [],
        "weeping" => [],
        "outfit" => "bare",
        "power" => "running"
      }
      assembly.springs_psid.merge(assembly.openings_psid).each { |part, value| raw["n_#{part}"] = words(value) }
      new(raw, assembly, catalog)
    end

    attr_reader :assembly, :catalog

    # @param catalog [Nurv::Catalog] what there is to choose from
    def initialize(raw, assembly, catalog)
      super(raw)
      @assembly = assembly
      @catalog = catalog
    end

    def rows = [FEWEST_ROWS, @raw.keys.grep(/\Afault_\d+\z/).size + 1].max

    def chosen?(name, value) = list(name).include?(value.to_s)

    # Whether anything is said that a station may well be without.
    def little_things? =
      %i[debris weeping].any? { |name| list(name).any? } || self[:outfit] != "bare" ||
        self[:plate_state] == "corroded" || !self[:meter_number].empty?

    def numbers = assembly.springs_psid.keys + assembly.openings_psid.keys

    def procedures = catalog.procedures.values.select { |procedure| procedure.assembly == assembly.id }

    def faults = catalog.faults.values.select { |fault| fault.applies_to?(assembly.id) }

    def kits = catalog.kits.values.select { |kit| procedures.any? { |procedure| procedure.kits.include?(kit.id) } }

    def data =
      @data ||=
        Nurv::Facts.of(
          carried.reduce(fields) do |all, (key, value)|
            all.merge(key => (value.is_a?(Hash) && all[key].is_a?(Hash)) ? all[key].merge(value) : value)
          end
        )

    def station = @station ||= Nurv::Stations::Station.new(data, catalog)

    def to_yaml = YAML.dump(JSON.parse(JSON.generate(data)))

    private

    def fields
      {
        id: identifier,
        title: self[:title],
        date: self[:date],
        assembly: assembly.id.to_s,
        size_in: number(self[:size_in]),
        site: self[:site],
        plate: {
          make: self[:make],
          model: self[:model],
          size: self[:plate_size],
          serial: self[:serial],
          type: assembly.short
        },
        line: line,
        springs_psid: settings(assembly.springs_psid),
        openings_psid: settings(assembly.openings_psid),
        kit: {
          id: self[:kit],
          face: self[:face],
          serial: self[:kit_serial],
          checked_on: self[:checked_on],
          zero_error_psid: number(self[:zero_error]),
          **digital
        },
        faults: fault_list,
        findings: list(:findings),
        procedures: list(:procedures),
        direction: (self[:direction] unless self[:direction].empty?),
        tags: (self[:tags] unless self[:tags].empty?),
        plate_state: self[:plate_state],
        after_failure: self[:after_failure],
        debris: list(:debris),
        weeping: list(:weeping),
        test_cocks: OUTFITS.fetch(self[:outfit], {}),
        **varies,
        **meter
      }
    end

    # How a digital kit is found.
    def digital
      return {} unless self[:face] == "digital"

      power = self[:power].empty? ? "running" : self[:power]
      {power: power, in_the_dark: self[:in_the_dark] == "1"}
    end

    def carried = hand_written("carried", {})

    # @return [Hash, Array] JSON that came with the form; what is not JSON counts as nothing
    def hand_written(name, nothing)
      return nothing if self[name].empty?

      read = JSON.parse(self[name], symbolize_names: true)
      read.is_a?(nothing.class) ? read : nothing
    rescue JSON::ParserError
      nothing
    end

    def identifier =
      self[:title].downcase.gsub(/[^a-z0-9]+/, "_").delete_suffix("_").then { |id| id.empty? ? "station" : id[0, 80] }

    def line =
      {
        pressure_psi: number(self[:pressure]),
        swing_psi: number(self[:swing]),
        demand: number(self[:demand]),
        shutoff_valve_1: self[:found_1],
        shutoff_valve_2: self[:found_2]
      }

    def varies = (self[:varies] == "1") ? {varies: true} : {}

    def meter =
      self[:meter_number].empty? ? {} : {meter: {number: self[:meter_number], reading: self[:meter_reading]}}

    def settings(known) = known.keys.to_h { |part| [part, number(self["n_#{part}"])] }

    # A number, or a range as “6.4 to 8.8”.
    def number(text)
      range = text.match(RANGE)
      return {from: range[1].tr(",", ".").to_f, to: range[2].tr(",", ".").to_f} if range

      Float(text.tr(",", "."), exception: false) || text
    end

    def fault_list
      return hand_written("faults_by_hand", []) unless self[:faults_by_hand].empty?

      chosen =
        (0...rows).filter_map do |index|
          {id: self["fault_#{index}"], severity: self["severity_#{index}"]} unless self["fault_#{index}"].empty?
        end
      return chosen unless self[:draw] == "1" && chosen.any?

      [{one_of: chosen + ((self[:draw_none] == "1") ? [{id: "none"}] : [])}]
    end

    def check
      need(:title, "Give the station a title that only you see, like CV2 fouled at the laundry.")
      Nurv::Stations::Check
        .new(data, catalog)
        .problems
        .each { |place, what| @errors[field_of(place)] ||= sentence(place, catalog.words.tell(what)) }
    end

    def field_of(place)
      return PLACES[place] if PLACES.key?(place)
      return :"n_#{place.split(".").last}" if place.start_with?("springs", "openings")

      {
        "faults" => :faults,
        "procedures" => :procedures,
        "kit" => :kit,
        "debris" => :debris,
        "weeping" => :weeping,
        "meter" => :meter_number
      }.fetch(place[/\A\w+/], :title)
    end

    def sentence(_place, what) =
      what.sub(/\A(is missing)/, "This \\1").sub(/\Ashould be/, "This should be").sub(/\A./, &:upcase) + "."
  end
end
