# frozen_string_literal: true

module Nurv
  # The facts in data/: assemblies, kits, procedures, faults, sites, policies. The only core code that opens files.
  class Catalog
    ROOT = File.expand_path("../../data", __dir__)

    # Longest text of a file, bytes, and how deep its brackets may nest.
    MOST_BYTES = 64 * 1024
    DEEPEST = 24

    # Reads YAML text as plain data. Measured before it is parsed: a parser can be kept busy for long by little.
    #
    # @return [Hash] frozen, keys are symbols
    # @raise [DataError] naming the line, if it is not YAML or not a mapping
    def self.parse(text, path)
      raise DataError.new(path, [["top", "is larger than #{MOST_BYTES / 1024} kB"]]) if text.bytesize > MOST_BYTES
      unless text.dup.force_encoding("UTF-8").valid_encoding? && !text.include?("\0")
        raise DataError.new(path, [["top", "is not text"]])
      end
      raise DataError.new(path, [["top", "nests too deep"]]) if depth(text) > DEEPEST

      data = YAML.safe_load(text, filename: path)
      raise DataError.new(path, [["top", "should be a mapping of names to values"]]) unless data.is_a?(Hash)

      Nurv.deep_freeze(data)
    rescue Psych::SyntaxError => error
      raise DataError.new(path, [["line #{error.line}", "is not YAML: #{error.problem}"]])
    rescue Psych::DisallowedClass, Psych::BadAlias, ArgumentError => error
      raise DataError.new(path, [["top", "holds something other than plain values: #{error.message}"]])
    end

    # How deep brackets, dashes and indents nest, at the most.
    def self.depth(text)
      now = deepest = 0
      text.scan(/[\[{\]}]/) do |bracket|
        now = "[{".include?(bracket) ? now + 1 : [now - 1, 0].max
        deepest = now if now > deepest
      end
      dashes = text.scan(/^[ \t]*((?:[-?:] +)+)/).map { |found, *| found.count("-?:") }.max || 0
      [deepest, dashes, text.scan(/^( *)\S/).map { |indent, *| indent.size / 2 }.uniq.size].max
    end
    private_class_method :depth

    def self.default = @default ||= new(ROOT)

    def initialize(root)
      @root = root
      @sets = {}
    end

    def assemblies = set("assemblies") { |data| Assemblies::Definition.new(data) }

    def kits = set("kits") { |data| Kits::Definition.new(data) }

    def procedures = set("procedures") { |data| Procedures::Procedure.new(data) }

    def policies = set("policies") { |data| Grading::Policy.new(data) }

    def sites = set("sites") { |data| Scenarios::Site.new(data) }

    # @return [Hash{Symbol => Scenarios::Fault}]
    def faults = list("faults/faults.yml") { |data| Scenarios::Fault.new(data) }

    # @return [Hash{Symbol => Scenarios::Repair}]
    def repairs = list("faults/repairs.yml") { |data| Scenarios::Repair.new(data) }

    # @return [Hash{Symbol => Scenarios::Finding}]
    def findings = list("faults/findings.yml") { |data| Scenarios::Finding.new(data) }

    # @return [Hash{Symbol => Grading::Mistake}]
    def mistakes = list("procedures/shared/mistakes.yml") { |data| Grading::Mistake.new(data) }

    # Steps that several procedures take by name.
    def shared_steps = @shared_steps ||= list("procedures/shared/preliminaries.yml") { |data| data }

    # @return [Array<Scenarios::Station>] the stations that ship with the demo
    def demo_stations
      @demo_stations ||=
        Dir[File.join(@root, "demo/stations/*.yml")].sort.map { |path| Scenarios::Station.read(path) }
    end

    private

    def set(folder)
      @sets[folder] ||= Dir[File.join(@root, folder, "*.yml")]
        .sort
        .to_h do |path|
          item = yield(self.class.parse(File.read(path), path))
          [item.id, item]
        end
        .freeze
    end

    def list(file)
      path = File.join(@root, file)
      @sets[file] ||= Nurv
        .deep_freeze(YAML.safe_load_file(path))
        .to_h { |data| [data[:id].to_sym, yield(data)] }
        .freeze
    end
  end
end
