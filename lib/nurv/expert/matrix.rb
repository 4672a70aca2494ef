# frozen_string_literal: true

module Nurv
  module Expert
    # What every procedure finds of every fault at every severity, on a usual one-inch assembly: the table in
    # docs/truth-matrix.md.
    class Matrix
      LINE = {pressure_psi: 60, demand: 0.02}.freeze
      # `found`: the expert names it and nothing else. `hidden`: a full test passes it by. `mistaken`: something else
      # is named too. `rest` is the truth once all that was named is mended, for a pair of which only one was.
      Row =
        Struct.new(:procedure, :fault, :severity, :truth, :rest, keyword_init: true) do
          # @return [Symbol] :found, :hidden, :mistaken; of a pair also :the_other_then, once the first is mended, or
          #   :the_other_hidden
          def outcome
            return :found if truth.solvable?
            return truth.diagnoses.empty? ? :hidden : :mistaken unless part_named?

            rest.solvable? ? :the_other_then : :the_other_hidden
          end

          # All that is named is really there, but it is not all that is there.
          def part_named? = truth.diagnoses.any? && (truth.diagnoses - truth.faults).empty?
        end

      # @param catalog [Catalog] whose procedures are tried against whose faults
      def initialize(catalog)
        @catalog = catalog
      end

      # @return [Array<Row>] the healthy assembly first, for each procedure
      def rows =
        @rows ||=
          @catalog.procedures.values.flat_map { |procedure| cells(procedure).map { |cell| row(procedure, *cell) } }

      # @param procedure [Procedures::Procedure]
      # @return [Array<Array(Equipment::Fault, Symbol)>] faults with their severities, the healthy assembly first
      def cells(procedure)
        known = @catalog.faults.values.select { |fault| fault.applies_to?(procedure.assembly) }
        [[nil, nil]] + known.product(Equipment::Fault::SEVERITIES)
      end

      # @param fault [Equipment::Fault, nil]
      # @param severity [Symbol, nil]
      # @return [Row] worked out at most once
      def row(procedure, fault, severity)
        @known ||= {}
        @known[[procedure.id, fault&.id, severity]] ||=
          Row.new(procedure: procedure, fault: fault, severity: severity, truth: truth(procedure, fault, severity))
      end

      # @return [Stations::Station] a usual assembly with at most one fault
      def station(procedure, fault, severity)
        faults = Array(fault).map { |item| {id: item.id.to_s, severity: severity.to_s} }
        Stations::Station.new(
          Facts.of(
            id: "matrix",
            title: "Matrix",
            assembly: procedure.assembly.to_s,
            site: @catalog.sites.values.find { |one| suits?(procedure, one) }.id.to_s,
            line: LINE,
            faults: faults,
            plate: {
              make: "Karrow & Finch",
              model: "Breakwater",
              size: "1 in",
              serial: "KF-1",
              type: procedure.assembly.to_s.upcase
            },
            kit: {
              id: procedure.kits.first.to_s,
              serial: "NK-1",
              checked_on: "2026-03-02"
            },
            procedures: [procedure.id.to_s]
          ),
          @catalog
        )
      end

      # @return [Array<Row>] faults two at a time, both moderate; `fault` is the pair
      def pairs =
        @pairs ||=
          @catalog.procedures.values.flat_map do |procedure|
            pairs_of(procedure).map { |pair| pair_row(procedure, pair) }
          end

      # @return [Array<Array(Equipment::Fault, Equipment::Fault)>] of different components
      def pairs_of(procedure) =
        single_faults(procedure).combination(2).reject { |one, other| one.component == other.component }

      # @return [Row]
      def pair_row(procedure, pair)
        row =
          Row.new(procedure: procedure, fault: pair, severity: :moderate, truth: truth(procedure, pair, :moderate))
        named = row.truth.diagnoses
        if row.part_named? && !row.truth.solvable?
          row.rest =
            truth(
              procedure,
              pair.reject { |fault| named.include?("#{fault.component}:#{fault.reason}") },
              :moderate
            )
        end
        row
      end

      private

      def suits?(procedure, site) = @catalog.assemblies.fetch(procedure.assembly).suits?(site.hazard)

      def single_faults(procedure) =
        @catalog.faults.values.select do |fault|
          fault.applies_to?(procedure.assembly) && !fault.component.to_s.start_with?("test_cock")
        end

      def truth(procedure, fault, severity) =
        Truth.of(Stations::Variant.new(station(procedure, fault, severity), 1), procedure)
    end
  end
end
