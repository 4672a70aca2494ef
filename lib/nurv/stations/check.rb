# frozen_string_literal: true

module Nurv
  module Stations
    # Says everything that is wrong with the data of a station, each with its place: first its shape, and if that is
    # right, whether what it names is there and goes together.
    class Check
      # @param data [Hash] frozen, symbol keys
      # @param catalog [Catalog] what a station may name
      def initialize(data, catalog)
        @data = data
        @catalog = catalog
        @found = []
      end

      # @return [Array<Array(String, Remark)>] place and what is wrong there
      def problems
        shape = Shapes::Station.problems(@data)
        return shape if shape.any?

        check_references
        check_parts if assembly
        check_kit if kit
        check_faults(@data[:faults] || [], "faults")
        check_procedures
        check_stored
        @found
      end

      private

      def note(where, id, **values) = @found << [where.to_s, Remark.new(id, **values)]

      def assembly = @catalog.assemblies[@data[:assembly].to_sym]

      def kit = @catalog.kits[@data.dig(:kit, :id).to_sym]

      def check_references
        known(:assembly, @data[:assembly], @catalog.assemblies)
        known(:site, @data[:site], @catalog.sites)
        known("kit.id", @data.dig(:kit, :id), @catalog.kits)
        (@data[:findings] || []).each_with_index do |name, index|
          known("findings[#{index}]", name, @catalog.findings)
        end
      end

      def known(where, name, set)
        note(where, :not_known, typed: name.inspect, listed: set.keys) unless set.key?(name.to_sym)
      end

      def check_parts
        stands = Equipment::Standing::WAYS.include?(@data[:direction].to_s.to_sym)
        note("direction", :cannot_stand) if stands && !assembly.stands?
        check_settings(:springs_psid, assembly.springs_psid)
        check_settings(:openings_psid, assembly.openings_psid)
        (@data[:debris] || []).each_with_index do |name, index|
          note("debris[#{index}]", :no_test_cock, typed: name.inspect) unless assembly.test_cocks.key?(name.to_sym)
        end
        (@data[:weeping] || []).each_with_index do |name, index|
          next if assembly.shutoff_valves.include?(name.to_sym)

          note("weeping[#{index}]", :no_shutoff_here, typed: name.inspect)
        end
      end

      def check_settings(section, known)
        (@data[section] || {}).each_key do |part|
          note("#{section}.#{part}", :no_part_here) unless known.key?(part)
        end
      end

      def check_kit
        (@data.dig(:kit, :strainer_at_kit) || []).each_with_index do |hose, index|
          next if kit.hoses.key?(hose.to_sym)

          note("kit.strainer_at_kit[#{index}]", :no_hose_of_kit, typed: hose.inspect)
        end
        (@data.dig(:kit, :cracked_open) || {}).each_key do |valve|
          note("kit.cracked_open.#{valve}", :no_valve_of_kit) unless kit.valves.key?(valve)
        end
      end

      # @param list [Array<Hash>] faults; where one is to be drawn, the choices under one_of
      def check_faults(list, where, drawn: false)
        list.each_with_index do |item, index|
          place = "#{where}[#{index}]"
          next check_faults(item[:one_of], "#{place}.one_of", drawn: true) if item[:one_of]
          # Of a draw, one choice may be that nothing is wrong.
          next if drawn && item[:id] == "none"

          check_fault(place, item)
        end
      end

      def check_fault(where, item)
        return note("#{where}.id", :missing) unless item[:id]

        fault = @catalog.faults[item[:id].to_sym]
        note("#{where}.id", :fault_unknown, typed: item[:id].inspect) unless fault
        if fault && assembly && !fault.applies_to?(assembly.id)
          note("#{where}.id", :fault_elsewhere, typed: item[:id])
        end
        note("#{where}.severity", :missing) unless item[:severity]
      end

      def check_procedures
        @data[:procedures].each_with_index do |name, index|
          where = "procedures[#{index}]"
          procedure = @catalog.procedures[name.to_sym]
          next note(where, :procedure_unknown, typed: name.inspect) unless procedure

          note(where, :procedure_elsewhere, typed: name) if assembly && procedure.assembly != assembly.id
          check_levels(where, procedure) if assembly && procedure.assembly == assembly.id
          next if kit.nil? || procedure.kits.include?(kit.id)

          note(where, :procedure_other_kit, typed: name, kit: kit.id, listed: procedure.kits)
        end
      end

      # A kit has a memory for each differential that is read here.
      def check_stored
        known = @data[:procedures].filter_map { |name| @catalog.procedures[name.to_sym] }.flat_map(&:memories)
        (@data.dig(:kit, :stored) || {}).each_key do |name|
          note("kit.stored.#{name}", :not_known, typed: name.to_s, listed: known) unless known.include?(name)
        end
      end

      # One level for all outlets is none where an assembly stands.
      def check_levels(where, procedure)
        there = assembly.stood(@data[:direction].to_s.to_sym).levels
        procedure.levels.reject { |level| there.key?(level) }.each { |level| note(where, :no_such_level, typed: level) }
      end
    end
  end
end
