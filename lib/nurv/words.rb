# frozen_string_literal: true

require "i18n"

module Nurv
  # What people are told: sentences and labels for the ids and numbers that the core speaks in, from data/words.
  class Words
    # What a remark is about, where its words stand with data and not in data/words.
    #
    # procedure [Procedures::Procedure, nil] names steps and items; assembly [Equipment::Assembly, nil] heights; kit
    # [Equipment::Kit, nil] hoses; repairs [Hash{Symbol => Equipment::Repair}]; unit [Symbol, nil] :kpa where the gauge
    # reads in that
    About = Struct.new(:procedure, :assembly, :kit, :repairs, :unit, keyword_init: true)
    NOTHING = About.new(repairs: {}).freeze
    # Of what there is to choose from, so many are told.
    MOST_LISTED = 20
    # How a value is worded, by the name it has in a remark. What is not here is put in as it is.
    KINDS = {
      control: ->(words, id, _) { words.control(id) },
      before: ->(words, id, _) { words.control(id).downcase },
      controls: ->(words, ids, _) { ids.map { |id| words.control(id) }.join(" and ") },
      order: ->(words, ids, _) { ids.map { |id| words.control(id) }.join(", ") },
      part: ->(words, id, _) { words.part(id).downcase },
      hose: ->(words, id, about) { words.hose_of(id, about.kit) },
      hoses: ->(words, ids, about) { ids.map { |id| words.hose_of(id, about.kit) }.join(" and the ") },
      fitting: ->(words, id, _) { words.fitting(id) },
      thing: ->(words, id, _) { words.plain(id) },
      as: ->(words, id, _) { words.plain(id) },
      trouble: ->(words, id, _) { words.plain(id).capitalize },
      level: ->(words, id, about) { about.assembly&.levels&.[](id.to_sym)&.label || words.plain(id) },
      step: ->(words, id, about) { about.procedure&.step(id.to_sym)&.title || words.plain(id) },
      fields: ->(words, ids, about) { ids.map { |id| words.field_or_item(id, about.procedure) }.join(", ") },
      named: ->(words, id, _) { words.mistake(id).downcase },
      place: ->(words, id, _) { words.control(id) },
      done_things: ->(words, ids, _) { ids.map { |id| words.look(id).downcase }.join(", ") },
      left_things: ->(words, ids, _) { ids.map { |id| words.look(id).downcase }.join(", ") },
      done_controls: ->(words, ids, _) { ids.map { |id| words.control(id) }.join(", ") },
      left_controls: ->(words, ids, _) { ids.map { |id| words.control(id) }.join(", ") },
      done: ->(_, names, _) { names.join(", ") },
      left: ->(_, names, _) { names.join(", ") },
      results: ->(words, ids, _) { ids.map { |id| words.plain(id) }.join("” or “") },
      result: ->(words, id, _) { id.nil? ? "nothing" : words.plain(id) },
      diagnoses: ->(words, names, _) { words.diagnoses(names) },
      repairs: ->(words, list, about) { words.repairs(list, about.repairs) },
      listed: ->(_, names, _) { names.first(MOST_LISTED).join(", ") + ((names.size > MOST_LISTED) ? ", …" : "") },
      choices: ->(_, names, _) { names.join(" or ") },
      topic: ->(words, id, _) { words.topic(id) },
      mistake: ->(words, id, _) { words.mistake(id) },
      flag: ->(words, id, _) { words.flag(id) },
      side: ->(words, id, about) { words.side(id, about.assembly) },
      ways_in: ->(words, list, about) { Ways.told(words, list, about) },
      ways_out: ->(words, list, about) { Ways.told(words, list, about) },
      parts: ->(words, ids, about) { words.listed(ids.map { |id| Ways.called(words, id.to_sym, about) }) },
      candidates: ->(words, ids, about) { words.listed(ids.map { |id| Ways.called(words, id.to_sym, about) }, "or") },
      remark: ->(words, remark, about) { words.tell(remark, about) }
    }.freeze
    private_constant :KINDS

    # @param folder [String] with a file for each language, like en.yml
    # @param language [Symbol]
    def self.read(folder, language = :en)
      # A store of its own, so that no setting of the process decides what is said here.
      backend = I18n::Backend::Simple.new
      told = Facts.of(YAML.safe_load_file(File.join(folder, "#{language}.yml")))
      backend.store_translations(language, told.fetch(language))
      new(backend, language)
    end

    # @param backend [I18n::Backend::Base]
    def initialize(backend, language)
      @backend = backend
      @language = language
      @known = {}
    end

    # @param names [Hash{Symbol => String}] what controls are called where the tester gives them their names
    # @return [Words] the same but for these
    def calling(names) = names.empty? ? self : dup.tap { |words| words.call_controls(names) }

    # The sign of a number that is nothing once it is rounded.
    MINUS_NOTHING = /(?<![\d.])-(?=0\.0+(?!\d))/
    private_constant :MINUS_NOTHING

    # @param what [Remark, String] a string is what a person or a library wrote
    # @param about [About]
    # @return [String] a sentence
    # @raise [KeyError] for a remark that has no words
    def tell(what, about = NOTHING)
      return what unless what.is_a?(Remark)

      values = what.values.to_h { |name, value| [name, worded(name, value, about)] }
      in_unit(say(:"remarks.#{what.id}", **values).gsub(MINUS_NOTHING, ""), about.unit)
    end

    # @param key [Symbol] like :"lines.overall"
    # @return [String]
    # @raise [KeyError] where there are no words
    def say(key, **values)
      said = @backend.translate(@language, key, default: nil, **values)
      said || raise(KeyError, "no words for #{key} in #{@language}")
    end

    # @param problems [Array<Array(String, [String, Remark])>] place and what is wrong there
    # @return [Array<Array(String, String)>]
    def problems(problems) = problems.map { |where, what| [where, tell(what)] }

    # @param error [Nurv::Error]
    # @param about [About]
    # @return [String] for the person whose act or file it was
    def error(error, about = NOTHING)
      case error
      when RefusedAction then tell(error.remark, about)
      when DataError then problems(error.problems).map { |where, what| "#{error.path}: #{where}: #{what}" }.join("\n")
      else error.message
      end
    end

    # @param id [Symbol, String] of a valve, cock or tap
    # @return [String] like "SOV1"; the id in words where it has no label
    def control(id) = @names&.[](id.to_s.to_sym) || label(:controls, id)

    # @param id [Symbol, String] of a part of an assembly
    # @return [String] like "CV1"
    def part(id) = label(:parts, id)

    # @param id [Symbol, String] of a chamber, or of a side of the gauge
    # @param assembly [Equipment::Assembly, nil]
    # @return [String] like "the zone"
    def side(id, assembly) = lookup(:sides, "#{id}_#{assembly&.id}") || label(:sides, id)

    # @param id [Symbol, String] of what a tester notices
    # @return [String] in the middle of a sentence
    def flag(id) = label(:flags, id)

    # @return [String, nil] how water goes that way, where it has words of its own
    def way(id) = lookup(:ways, id)

    # @return [String] like "CV1, CV2 and SOV2"
    def listed(names, last = "and") =
      (names.size < 2) ? names.join : "#{names[0..-2].join(", ")} #{last} #{names.last}"

    # @param id [Symbol, String] of a hose or an end of one
    # @return [String] like "high hose"
    def hose(id) = label(:hoses, id)

    # @param kit [Equipment::Kit, nil] whose own name for it comes first
    def hose_of(id, kit) = kit&.hoses&.[](id.to_sym)&.name&.downcase || hose(id)

    # @param id [Symbol, String]
    # @return [String] like "sight tube"
    def fitting(id) = label(:fittings, id)

    # @param kind [Symbol, String] as Teaching::Asked has them
    # @return [String] the question that is put to a class
    def asked(kind) = label(:asked, kind)

    # @param choice [Symbol, String] an answer to it, or a part
    # @return [String]
    def answer(choice) = known?(:answers, choice) ? label(:answers, choice) : part(choice)

    # @param id [Symbol, String] of a thing that there is at every bench
    # @return [String] like "Name plate"
    def look(id) = label(:looks, id)

    # @param id [Symbol, String]
    # @return [String] what one says to people
    def topic(id) = label(:topics, id)

    # @param id [Symbol, String] of the paper's own
    # @return [String] like "Serial number"
    def field(id) = label(:fields, id)

    # @param procedure [Procedures::Procedure, nil] whose items are fields as well
    # @return [String]
    def field_or_item(id, procedure)
      return field(id) if known?(:fields, id)
      return say(:"lines.result", part: part(id.to_s.delete_prefix("result_"))) if id.to_s.start_with?("result_")

      procedure&.items&.[](id.to_sym)&.label || plain(id)
    end

    # @param id [Symbol, String]
    # @return [String] like "Not tested"
    def result(id) = label(:results, id)

    # @param id [Symbol, String] how two shutoffs stand
    # @return [String] like "SOV1 open, SOV2 closed"; what was typed of old, as it is
    def standing(id) = known?(:standings, id.to_s) ? label(:standings, id) : id.to_s

    # @param id [Symbol, String]
    # @return [String] like "fouled, does not close tight"
    def reason(id) = label(:reasons, id)

    # @param id [Symbol, String]
    # @return [String] how hard made stations are
    def difficulty(id) = label(:difficulties, id)

    # @param id [Symbol, String]
    # @return [String] what a policy says of second attempts
    def retest(id) = label(:retests, id)

    # @param id [Symbol, String]
    # @return [String] what a mistake is called
    def mistake(id) = say(:"mistakes.#{id}.name")

    # @param id [Symbol, String]
    # @return [String] why a mistake matters
    def why(id) = say(:"mistakes.#{id}.why")

    # @param names [Array<String>] like "check_valve_1:fouled"
    # @return [String] in one line
    def diagnoses(names)
      return reason(:healthy) if names.empty?

      names.map { |name| name.split(":") }.map { |where, how| "#{part(where)} #{reason(how)}" }.join("; ")
    end

    # @param list [Array<Array(String, String)>] parts and ways
    # @param repairs [Hash{Symbol => Equipment::Repair}] those that are known
    # @return [String] like "CV1: fit a new spring"
    def repairs(list, repairs) =
      list.map { |component, way| "#{part(component)}: #{repairs.fetch(way.to_sym).label.downcase}" }.join("; ")

    # @return [String] an id as it is, with blanks
    def plain(id) = id.to_s.tr("_", " ")

    # @param kind [Symbol] like :parts
    # @return [Boolean] whether there is a label of that kind
    def known?(kind, id) = !lookup(kind, id).nil?

    protected

    def call_controls(names) = @names = names

    private

    def worded(name, value, about)
      return value * Units::PER_PSI.fetch(about.unit || :psi) if value.is_a?(Float) && name.end_with?("psid")

      KINDS[name]&.call(self, value, about) || value
    end

    def in_unit(said, unit) = (unit == :kpa) ? said.gsub(/\bpsid\b/, "kPa") : said

    def label(kind, id) = lookup(kind, id) || plain(id)

    # Labels never change, and screens ask for them by the hundred.
    def lookup(kind, id)
      labels = @known[kind] ||= @backend.translate(@language, kind)
      labels[id.is_a?(Symbol) ? id : id.to_s.to_sym]
    end
  end
end
