# frozen_string_literal: true

module Nurv
  module Stations
    # Reads the data of a station and says everything that is wrong with it, each with its place.
    class Check
      REQUIRED = %i[id title assembly plate site line kit procedures].freeze
      KNOWN =
        (
          REQUIRED +
            %i[size_in springs_psid openings_psid faults findings note date debris meter plate_state after_failure]
        ).freeze
      PLATE = %i[make model size serial type].freeze
      KIT = %i[id face serial checked_on zero_error_psid strainer_at_kit height_in cracked_open].freeze
      FAULT = %i[id severity one_of].freeze
      # What shape each part has, before anything is looked up in it.
      SHAPES = {
        id: String,
        title: String,
        assembly: String,
        site: String,
        note: String,
        plate: Hash,
        line: Hash,
        kit: Hash,
        springs_psid: Hash,
        openings_psid: Hash,
        faults: Array,
        findings: Array,
        debris: Array,
        procedures: Array,
        meter: Hash,
        date: String,
        plate_state: String,
        after_failure: String,
        size_in: Numeric
      }.freeze
      SHAPE_WORDS = {
        String => "text",
        Hash => "a mapping of names to values",
        Array => "a list",
        Numeric => "a number"
      }.freeze
      # Longest text, and longest list.
      MOST = 400
      ID = /\A[\w-]{1,80}\z/
      LINE = {pressure_psi: 20..150, swing_psi: 0..10, demand: 0..1, back_pressure_psi: 0..200}.freeze
      SHUTOFFS = %i[shutoff_valve_1 shutoff_valve_2].freeze
      SPRINGS = 0.1..15
      SIZES = 0.5..12
      HEIGHTS = -60..120

      # @param data [Hash] frozen, symbol keys
      def initialize(data, catalog)
        @data = data
        @catalog = catalog
        @found = []
      end

      # @return [Array<Array(String, String)>] place and what is wrong there
      def problems
        REQUIRED.each { |key| note(key, "is missing") unless @data.key?(key) }
        (@data.keys - KNOWN).each { |key| note(key, "is not known here; use one of #{KNOWN.join(", ")}") }
        check_shapes
        return @found if @found.any?

        note(:title, "is empty") if @data[:title].strip.empty?
        check_references
        check_plate
        check_numbers
        check_faults if assembly
        check_findings
        check_extras
        check_procedures
        @found
      end

      private

      # Only what has the right shape is looked into further.
      def check_shapes
        SHAPES.each do |key, shape|
          value = @data[key]
          next if value.nil? && !(REQUIRED.include?(key) && @data.key?(key))
          next note(key, "should be #{SHAPE_WORDS[shape]}, not #{value.inspect[0, 60]}") unless value.is_a?(shape)

          note(key, "is too long") if value.respond_to?(:size) && !value.is_a?(Numeric) && value.size > MOST
        end
        if @data[:id].is_a?(String) && !@data[:id].match?(ID)
          note(:id, "should be letters, digits, - and _, like rp_quay")
        end
        %i[findings debris procedures].each { |key| words(key, @data[key]) }
        scalars(:plate, @data[:plate], PLATE)
        scalars(:meter, @data[:meter], %i[number reading])
        check_kit_shape if @data[:kit].is_a?(Hash)
      end

      def words(where, list)
        return unless list.is_a?(Array)

        list.each_with_index do |item, index|
          note("#{where}[#{index}]", "should be a name, not #{item.inspect[0, 60]}") unless item.is_a?(String)
        end
      end

      def scalars(where, section, known)
        return unless section.is_a?(Hash)

        section.each do |key, value|
          next note("#{where}.#{key}", "is not known here; use one of #{known.join(", ")}") unless known.include?(key)

          note("#{where}.#{key}", "should be text, not #{value.inspect[0, 60]}") unless plain?(value)
        end
      end

      # Text, or a number that was written without quotes.
      def plain?(value) =
        (value.is_a?(String) || (value.is_a?(Numeric) && value.to_f.finite?)) && value.to_s.size <= 80

      def check_kit_shape
        kit = @data[:kit]
        (kit.keys - KIT).each { |key| note("kit.#{key}", "is not known here; use one of #{KIT.join(", ")}") }
        note("kit.id", "should be a name") unless kit[:id].is_a?(String)
        note("kit.serial", "should be text") unless kit[:serial].nil? || plain?(kit[:serial])
        unless kit[:strainer_at_kit].nil? || kit[:strainer_at_kit].is_a?(Array)
          note("kit.strainer_at_kit", "should be a list of hoses")
        end
        words("kit.strainer_at_kit", kit[:strainer_at_kit])
        range("kit.height_in", kit[:height_in], HEIGHTS)
        cracked = kit[:cracked_open]
        unless cracked.nil? || cracked.is_a?(Hash)
          return note("kit.cracked_open", "should be a mapping of kit valves to turns")
        end

        cracked&.each { |valve, turns| number("kit.cracked_open.#{valve}", turns, 0..1) }
      end

      def note(where, what) = @found << [where.to_s, what]

      def assembly = @catalog.assemblies[@data[:assembly].to_s.to_sym]

      def check_references
        known(:assembly, @data[:assembly], @catalog.assemblies)
        known(:site, @data[:site], @catalog.sites)
        known("kit.id", @data.dig(:kit, :id), @catalog.kits)
        face = @data.dig(:kit, :face)
        note("kit.face", "should be analogue or digital") unless [nil, "analogue", "digital"].include?(face)
        kit = @catalog.kits[@data.dig(:kit, :id).to_s.to_sym]
        strainers = @data.dig(:kit, :strainer_at_kit) || []
        strainers.each do |hose|
          unless kit&.hoses&.key?(hose.to_sym)
            note("kit.strainer_at_kit", "#{hose.inspect} is not a hose of this kit")
          end
        end
        (@data.dig(:kit, :cracked_open) || {}).each_key do |valve|
          note("kit.cracked_open.#{valve}", "is not a valve of this kit") unless kit&.valves&.key?(valve)
        end
        range("kit.zero_error_psid", @data.dig(:kit, :zero_error_psid), -3..3)
      end

      def known(where, value, set)
        return if set.key?(value.to_s.to_sym)

        note(where, "#{value.inspect} is not known; use one of #{set.keys.join(", ")}")
      end

      def check_plate
        PLATE.each { |key| note("plate.#{key}", "is missing") if @data[:plate][key].to_s.empty? }
      end

      def check_numbers
        note("line.pressure_psi", "is missing") unless @data[:line].key?(:pressure_psi)
        @data[:line].each do |key, value|
          next shutoff_found(key, value) if SHUTOFFS.include?(key)

          LINE.key?(key) ? range("line.#{key}", value, LINE[key]) : note("line.#{key}", "is not known here")
        end
        number(:size_in, @data[:size_in], SIZES) unless @data[:size_in].nil?
        settings(:springs_psid, assembly&.springs_psid)
        settings(:openings_psid, assembly&.openings_psid)
      end

      def shutoff_found(key, value)
        note("line.#{key}", "should be open or closed, not #{value.inspect}") unless %w[open closed].include?(value)
      end

      def settings(section, known)
        (@data[section] || {}).each do |key, value|
          next note("#{section}.#{key}", "this assembly has no such part") if known && !known.key?(key)

          range("#{section}.#{key}", value, SPRINGS)
        end
      end

      # A number, or {from, to} for a variant to draw from.
      def range(where, value, allowed)
        return if value.nil?
        return number(where, value, allowed) unless value.is_a?(Hash)
        return note(where, "should be a number, or from and to") unless value.keys.sort == %i[from to]

        value.each_value { |edge| number(where, edge, allowed) }
        note(where, "goes from more to less") if value.values.all?(Numeric) && value[:from] > value[:to]
      end

      def number(where, value, allowed)
        return if value.is_a?(Numeric) && value.to_f.finite? && allowed.cover?(value)

        note(where, "should be a number from #{allowed.begin} to #{allowed.end}, not #{value.inspect[0, 60]}")
      end

      def check_faults
        (@data[:faults] || []).each_with_index { |item, index| check_fault("faults[#{index}]", item) }
      end

      def check_fault(where, item)
        return note(where, "should be a mapping with id and severity") unless item.is_a?(Hash)

        (item.keys - FAULT).each do |key|
          note("#{where}.#{key}", "is not known here; use one of #{FAULT.join(", ")}")
        end
        return check_choices(where, item[:one_of]) if item.key?(:one_of)
        return if item[:id] == "none" && where.include?("one_of")

        fault = @catalog.faults[item[:id].to_s.to_sym]
        note("#{where}.id", "#{item[:id].inspect} is not a known fault") unless fault
        note("#{where}.id", "#{item[:id]} cannot happen on this assembly") if fault && !fault.applies_to?(assembly.id)
        return if Equipment::Fault::SEVERITIES.include?(item[:severity].to_s.to_sym)

        note("#{where}.severity", "should be light, moderate or gross, not #{item[:severity].inspect}")
      end

      def check_choices(where, list)
        unless list.is_a?(Array) && list.any? && !where.include?("one_of")
          return note("#{where}.one_of", "should be a list of faults to draw one of")
        end

        list.each_with_index { |choice, index| check_fault("#{where}.one_of[#{index}]", choice) }
      end

      def check_findings
        (@data[:findings] || []).each_with_index do |name, index|
          known("findings[#{index}]", name, @catalog.findings)
        end
      end

      def check_extras
        one_of(:plate_state, %w[clean corroded])
        one_of(:after_failure, %w[report repair_and_retest])
        cocks = assembly ? assembly.test_cocks.keys.map(&:to_s) : []
        (@data[:debris] || []).each_with_index do |name, index|
          note("debris[#{index}]", "#{name.inspect} is not a test cock here") unless cocks.include?(name.to_s)
        end
        meter = @data[:meter]
        note(:meter, "should be a mapping with number and reading") if meter && meter.keys.sort != %i[number reading]
        date(:date, @data[:date])
        date("kit.checked_on", @data.dig(:kit, :checked_on))
      end

      def one_of(key, words)
        unless @data[key].nil? || words.include?(@data[key])
          note(key, "should be #{words.join(" or ")}, not #{@data[key].inspect}")
        end
      end

      def date(where, value)
        Date.iso8601(value.to_s) unless value.nil?
      rescue ArgumentError
        note(where, "should be a date like 2026-03-02, not #{value.inspect}")
      end

      def check_procedures
        list = @data[:procedures]
        return note(:procedures, "should be a list with at least one procedure") if list.empty?

        list.each_with_index do |name, index|
          procedure = @catalog.procedures[name.to_s.to_sym]
          next note("procedures[#{index}]", "#{name.inspect} is not a known procedure") unless procedure

          if assembly && procedure.assembly != assembly.id
            note("procedures[#{index}]", "#{name} is not for this assembly")
          end
          kit = @data.dig(:kit, :id).to_s.to_sym
          unless procedure.kits.include?(kit)
            note("procedures[#{index}]", "#{name} cannot be done with the kit #{kit}")
          end
        end
      end
    end
  end
end
