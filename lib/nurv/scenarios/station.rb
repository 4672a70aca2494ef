# frozen_string_literal: true

module Nurv
  module Scenarios
    # Assembly + site + line + kit + faults + allowed procedures: one place to be tested at, before a seed fixes its numbers.
    class Station
      FaultAt = Struct.new(:fault, :severity)

      attr_reader :id, :title, :assembly, :size_in, :plate, :site, :line, :springs_psid, :openings_psid, :kit,
        :kit_state, :faults, :procedures, :findings, :data

      # @param path [String] a station file
      # @raise [DataError]
      def self.read(path, catalog: Catalog.default) = parse(File.read(path), path, catalog: catalog)

      # @param text [String] YAML as in docs/formats.md
      # @raise [DataError] with every problem found
      def self.parse(text, path = "station", catalog: Catalog.default)
        data = Catalog.parse(text, path)
        problems = StationCheck.new(data, catalog).problems
        raise DataError.new(path, problems) if problems.any?

        new(data, catalog)
      end

      def initialize(data, catalog = Catalog.default)
        @data = data
        @id = data[:id].to_sym
        @title = data[:title]
        @assembly = catalog.assemblies.fetch(data[:assembly].to_sym)
        @size_in = data.fetch(:size_in, 1.0).to_f
        @plate = data[:plate]
        @site = catalog.sites.fetch(data[:site].to_sym)
        @line = data[:line]
        @springs_psid = @assembly.springs_psid.merge(data[:springs_psid] || {})
        @openings_psid = @assembly.openings_psid.merge(data[:openings_psid] || {})
        @kit = catalog.kits.fetch(data.dig(:kit, :id).to_sym)
        @kit_state = data[:kit]
        @faults = (data[:faults] || []).map { |item| FaultAt.new(catalog.faults.fetch(item[:id].to_sym), item[:severity].to_sym) }
        @findings = (data[:findings] || []).map { |name| catalog.findings.fetch(name.to_sym) }
        @procedures = data[:procedures].map { |name| catalog.procedures.fetch(name.to_sym) }
        freeze
      end

      # @return [Finding, nil] what is to be seen when one looks there
      def finding_at(thing) = findings.find { |finding| finding.at == thing }

      def to_yaml = YAML.dump(JSON.parse(JSON.generate(data)))

      # What a trainee may be told: nothing that hints at the fault.
      def public_name = "#{assembly.short} at #{site.name}"
    end
  end
end
