# frozen_string_literal: true

module Nurv
  class Catalog
    # Tries facts before they are taken: a bench of each assembly and kit is settled, and a correct tester looks for
    # each fault.
    class Trial
      # What a bench is made of, besides assembly, kit and procedure.
      PLATE = {make: "Karrow & Finch", model: "Breakwater", size: "1 in", serial: "KF-10001", type: "-"}.freeze
      PRESSURE_PSI = 60
      # So many faults are looked for; each takes a correct tester's whole test.
      MOST_FAULTS = 12
      SEVERITY = :gross

      # @param catalog [Catalog] checked
      # @param own [Hash{Symbol => Array<Symbol>}] ids of what is new, by kind
      def initialize(catalog, own)
        @catalog = catalog
        @own = own
      end

      # @return [Array<Array(String, Remark)>] place, and what a bench there came to
      def problems
        touched.filter_map do |procedure, kit|
          Bench::Opening.new(variant(procedure, kit)).state
          nil
        rescue => error
          place = "assemblies #{procedure.assembly}, kits #{kit}"
          [place, Remark.new(:bench_does_not_settle, problem: error.message.lines.first.to_s.strip[0, 120])]
        end
      end

      # @return [Array<Array(String, Remark)>] new faults that no correct tester finds, and what is missing
      def unfindable
        ids = @own.fetch(:faults, []).first(MOST_FAULTS)
        ids.filter_map { |id| @catalog.faults[id] }.flat_map { |fault| unfound(fault) }
      end

      private

      def names(kind) = @own.fetch(kind, [])

      # @return [Array<Array(Procedures::Procedure, Symbol)>] each procedure with each of its kits that is new, or
      #   whose assembly is
      def touched =
        @catalog.procedures.values.flat_map do |procedure|
          whole = names(:assemblies).include?(procedure.assembly) || names(:procedures).include?(procedure.id)
          procedure.kits.select { |kit| whole || names(:kits).include?(kit) }.map { |kit| [procedure, kit] }
        end

      def variant(procedure, kit, faults = [])
        data = {
          id: "trial",
          title: "Trial",
          assembly: procedure.assembly.to_s,
          size_in: 1,
          plate: PLATE,
          site: @catalog.sites.keys.first.to_s,
          line: {pressure_psi: PRESSURE_PSI},
          kit: {id: kit.to_s},
          faults: faults,
          procedures: [procedure.id.to_s]
        }
        Stations::Variant.new(Stations::Station.new(Facts.of(data), @catalog), 1)
      end

      def unfound(fault)
        @catalog.assemblies.keys.select { |id| fault.applies_to?(id) }.filter_map do |assembly|
          procedures = @catalog.procedures.values.select { |procedure| procedure.assembly == assembly }
          next if procedures.any? { |procedure| found?(fault, procedure) }

          says = "#{fault.component}:#{fault.reason}"
          lacking = procedures.reject { |procedure| procedure.concludes?(says) }.map(&:id)
          id = lacking.empty? ? :fault_without_sign : :fault_without_conclusion
          ["faults #{fault.id}: #{assembly}", Remark.new(id, typed: says, listed: lacking)]
        end
      end

      def found?(fault, procedure)
        bench = variant(procedure, procedure.kits.first, [{id: fault.id.to_s, severity: SEVERITY.to_s}])
        Expert::Truth.of(bench, procedure).diagnoses.include?("#{fault.component}:#{fault.reason}")
      rescue Nurv::Error
        false
      end
    end
  end
end
