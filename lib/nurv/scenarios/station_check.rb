# frozen_string_literal: true

module Nurv
  module Scenarios
    # Reads the data of a station and says everything that is wrong with it, each with its place.
    class StationCheck
      REQUIRED = %i[id title assembly plate site line kit procedures].freeze
      KNOWN = (REQUIRED + %i[size_in springs_psid openings_psid faults findings note date debris meter plate_state after_failure]).freeze
      PLATE = %i[make model size serial type].freeze
      LINE = {pressure_psi: 20..150, swing_psi: 0..10, demand: 0..1, back_pressure_psi: 0..200}.freeze
      SHUTOFFS = %i[shutoff_valve_1 shutoff_valve_2].freeze
      SPRINGS = 0.1..15
      SIZES = 0.5..12

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
        return @found if @found.any?

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

      def note(where, what) = @found << [where.to_s, what]

      def assembly = @catalog.assemblies[@data[:assembly].to_s.to_sym]

      def check_references
        known(:assembly, @data[:assembly], @catalog.assemblies)
        known(:site, @data[:site], @catalog.sites)
        return note(:kit, "should be a mapping with an id") unless @data[:kit].is_a?(Hash)

        known("kit.id", @data.dig(:kit, :id), @catalog.kits)
        face = @data.dig(:kit, :face)
        note("kit.face", "should be analogue or digital") unless [nil, "analogue", "digital"].include?(face)
        kit = @catalog.kits[@data.dig(:kit, :id).to_s.to_sym]
        strainers = @data.dig(:kit, :strainer_at_kit) || []
        strainers.each { |hose| note("kit.strainer_at_kit", "#{hose.inspect} is not a hose of this kit") unless kit&.hoses&.key?(hose.to_s.to_sym) } if strainers.is_a?(Array)
        range("kit.zero_error_psid", @data.dig(:kit, :zero_error_psid), -3..3)
      end

      def known(where, value, set)
        return if set.key?(value.to_s.to_sym)

        note(where, "#{value.inspect} is not known; use one of #{set.keys.join(", ")}")
      end

      def check_plate
        return note(:plate, "should be a mapping with #{PLATE.join(", ")}") unless @data[:plate].is_a?(Hash)

        PLATE.each { |key| note("plate.#{key}", "is missing") if @data[:plate][key].to_s.empty? }
      end

      def check_numbers
        return note(:line, "should be a mapping with pressure_psi") unless @data[:line].is_a?(Hash)

        note("line.pressure_psi", "is missing") unless @data[:line].key?(:pressure_psi)
        @data[:line].each do |key, value|
          next shutoff_found(key, value) if SHUTOFFS.include?(key)

          LINE.key?(key) ? range("line.#{key}", value, LINE[key]) : note("line.#{key}", "is not known here")
        end
        range(:size_in, @data[:size_in], SIZES)
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
        return [value[:from], value[:to]].each { |edge| number(where, edge, allowed) } if value.is_a?(Hash)

        number(where, value, allowed)
      end

      def number(where, value, allowed)
        return if value.is_a?(Numeric) && allowed.cover?(value)

        note(where, "should be a number from #{allowed.begin} to #{allowed.end}, not #{value.inspect}")
      end

      def check_faults
        return note(:faults, "should be a list") unless @data.fetch(:faults, []).is_a?(Array)

        @data.fetch(:faults, []).each_with_index { |item, index| check_fault("faults[#{index}]", item) }
      end

      def check_fault(where, item)
        return note(where, "should be a mapping with id and severity") unless item.is_a?(Hash)
        return item[:one_of].each_with_index { |choice, index| check_fault("#{where}.one_of[#{index}]", choice) } if item[:one_of].is_a?(Array) && item[:one_of].any?
        return if item[:id] == "none" && where.include?("one_of")

        fault = @catalog.faults[item[:id].to_s.to_sym]
        note("#{where}.id", "#{item[:id].inspect} is not a known fault") unless fault
        note("#{where}.id", "#{item[:id]} cannot happen on this assembly") if fault && !fault.applies_to?(assembly.id)
        return if Fault::SEVERITIES.include?(item[:severity].to_s.to_sym)

        note("#{where}.severity", "should be light, moderate or gross, not #{item[:severity].inspect}")
      end

      def check_findings
        (@data[:findings] || []).each_with_index { |name, index| known("findings[#{index}]", name, @catalog.findings) }
      end

      def check_extras
        one_of(:plate_state, %w[clean corroded])
        one_of(:after_failure, %w[report repair_and_retest])
        cocks = assembly ? assembly.test_cocks.keys.map(&:to_s) : []
        (@data[:debris] || []).each_with_index { |name, index| note("debris[#{index}]", "#{name.inspect} is not a test cock here") unless cocks.include?(name.to_s) }
        meter = @data[:meter]
        note(:meter, "should be a mapping with number and reading") if meter && !(meter.is_a?(Hash) && meter.keys.sort == %i[number reading])
        date(:date, @data[:date])
        date("kit.checked_on", @data.dig(:kit, :checked_on)) if @data[:kit].is_a?(Hash)
      end

      def one_of(key, words)
        note(key, "should be #{words.join(" or ")}, not #{@data[key].inspect}") unless @data[key].nil? || words.include?(@data[key])
      end

      def date(where, value)
        Date.iso8601(value.to_s) unless value.nil?
      rescue Date::Error
        note(where, "should be a date like 2026-03-02, not #{value.inspect}")
      end

      def check_procedures
        list = @data[:procedures]
        return note(:procedures, "should be a list with at least one procedure") unless list.is_a?(Array) && list.any?

        list.each_with_index do |name, index|
          procedure = @catalog.procedures[name.to_s.to_sym]
          next note("procedures[#{index}]", "#{name.inspect} is not a known procedure") unless procedure

          note("procedures[#{index}]", "#{name} is not for this assembly") if assembly && procedure.assembly != assembly.id
          kit = @data.dig(:kit, :id).to_s.to_sym
          note("procedures[#{index}]", "#{name} cannot be done with the kit #{kit}") unless procedure.kits.include?(kit)
        end
      end
    end
  end
end
