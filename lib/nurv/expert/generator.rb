# frozen_string_literal: true

module Nurv
  module Expert
    # Makes stations of a given difficulty from a seed. Every one of them can be solved by its procedure: each is
    # tried.
    class Generator
      # How hard a fault is to see, whether there is more than one, and what else is wrong.
      DIFFICULTIES = {
        easy: {
          severities: %i[gross],
          faults: 1,
          swing: 0.0,
          findings: 0
        },
        medium: {
          severities: %i[moderate light],
          faults: 1,
          swing: 0.2,
          findings: 0
        },
        hard: {
          severities: %i[light moderate],
          faults: 2,
          swing: 0.3,
          findings: 1
        }
      }.freeze
      TRIES = 12
      # Nominal sizes, and how a plate says them.
      SIZES = {0.75 => "3/4 in", 1 => "1 in", 1.5 => "1 1/2 in", 2 => "2 in"}.freeze

      # @param procedure [Procedures::Procedure]
      # @param difficulty [Symbol]
      # @param seed [Integer] same seed, same stations
      # @param catalog [Catalog] what stations are made of
      # @param faults [Array<Array(Equipment::Fault, Symbol)>, nil] what is wrong, and how much; nil: drawn
      # @param some [Boolean] of what is drawn, something is always wrong
      # @param swing_psi [Float, nil] of the supply; nil: as the difficulty has it
      def initialize(procedure, difficulty, seed, catalog, faults: nil, some: false, swing_psi: nil)
        @faults = faults
        @some = some
        @swing_psi = swing_psi
        @procedure = procedure
        @assembly = catalog.assemblies.fetch(procedure.assembly)
        @difficulty = difficulty
        @settings = DIFFICULTIES.fetch(difficulty)
        @seed = seed
        @catalog = catalog
      end

      # @yieldparam done [Integer] how many are made, after each
      # @return [Array<Stations::Station>] one after the other, no two with the same faults next to each other where
      #   that can be helped
      def stations(count)
        (1..count).each_with_object([]) do |number, made|
          made << station(number, made.last)
          yield(number) if block_given?
        end
      end

      private

      def station(number, before)
        TRIES.times do |try|
          made = build(number, Random.new(Zlib.crc32("#{@seed}/#{number}/#{try}")))
          next if before && made.data[:faults] == before.data[:faults] && try < TRIES / 2
          return made if Truth.of(Stations::Variant.new(made, 1), @procedure).solvable?
        end
        build(number, Random.new(Zlib.crc32("#{@seed}/#{number}")), faults: [])
      end

      def build(number, random, faults: nil)
        faults ||= @faults || pick_faults(random)
        sites = @catalog.sites.values.select { |one| @assembly.suits?(one.hazard) }
        site = sites[random.rand(sites.size)]
        size_in = SIZES.keys[random.rand(SIZES.size)]
        Stations::Station.new(
          Facts.of(
            {
              id: "#{@procedure.id}-#{@difficulty}-#{@seed}-#{number}",
              title: title(number, faults),
              assembly: @assembly.id.to_s,
              size_in: size_in,
              plate: plate(random, SIZES[size_in]),
              site: site.id.to_s,
              line: {
                pressure_psi: random.rand(48..74),
                demand: 0.02,
                swing_psi: @swing_psi || @settings[:swing]
              },
              springs_psid: around(@assembly.springs_psid, random, 0.12),
              openings_psid: around(@assembly.openings_psid, random, 0.15),
              kit: {
                id: @procedure.kits.first.to_s,
                face: %w[analogue digital][random.rand(2)],
                serial: "NK-#{random.rand(500..899)}",
                checked_on: "2026-0#{random.rand(2..8)}-1#{random.rand(0..9)}"
              },
              faults: faults.map { |fault, severity| {id: fault.id.to_s, severity: severity.to_s} },
              findings: pick_findings(random),
              procedures: [@procedure.id.to_s]
            }
          ),
          @catalog
        )
      end

      def plate(random, size)
        plates = Stations::Plates
        make, model = plates::MAKES[random.rand(plates::MAKES.size)]
        {
          make: make,
          model: plates.model(model, @assembly.short),
          size: size,
          serial: plates.serial(make, random.rand(plates::NUMBERS)),
          type: @assembly.short
        }
      end

      def pick_faults(random)
        known = @catalog.faults.values.select { |fault| fault.applies_to?(@assembly.id) }
        count = random.rand(0..@settings[:faults]) + ((@difficulty == :easy && !@some) ? 0 : 1)
        known
          .shuffle(random: random)
          .uniq(&:component)
          .first([count, @settings[:faults]].min)
          .map { |fault| [fault, @settings[:severities][random.rand(@settings[:severities].size)]] }
      end

      def pick_findings(random)
        @catalog
          .findings
          .values
          .reject { |finding| finding.stops? || finding.id == :wrong_application }
          .sample(random.rand(0..@settings[:findings]), random: random)
          .map { |finding| finding.id.to_s }
      end

      def around(values, random, share) =
        values.to_h { |name, value| [name, (value * (1.0 + share * (2.0 * random.rand - 1.0))).round(1)] }

      def title(number, faults)
        what =
          (
            if faults.empty?
              "healthy"
            else
              faults.map { |fault, severity| "#{fault.label.downcase} (#{severity})" }.join(", ")
            end
          )
        "#{@assembly.short} #{@difficulty} #{number}: #{what}"
      end
    end
  end
end
