# frozen_string_literal: true

module Nurv
  # The facts in data/: assemblies, kits, procedures, faults, sites, policies. The only core code that opens files of
  # data. Whoever needs it is handed it; nothing below knows where facts come from.
  class Catalog
    ROOT = File.expand_path("../../data", __dir__)

    # The data that ship with this version, read when they are asked for.
    def self.shipped = new(ROOT)

    # @param root [String] a folder laid out as data/
    def initialize(root)
      @root = root
      @sets = {}
    end

    # @return [Hash{Symbol => Equipment::Assembly}]
    # @raise [DataError]
    def assemblies = set("assemblies") { |data| Equipment::Assembly.new(data) }

    # @return [Hash{Symbol => Equipment::Kit}]
    # @raise [DataError]
    def kits = set("kits") { |data| Equipment::Kit.new(data) }

    # @return [Hash{Symbol => Procedures::Procedure}] with the steps that they share
    # @raise [DataError]
    def procedures = set("procedures") { |data| Procedures::Procedure.with_shared(data, shared_steps) }

    # @return [Hash{Symbol => Grading::Policy}]
    # @raise [DataError]
    def policies = set("policies") { |data| Grading::Policy.new(data) }

    # @return [Hash{Symbol => Stations::Site}]
    # @raise [DataError]
    def sites = set("sites") { |data| Stations::Site.new(data) }

    # @return [Hash{Symbol => Equipment::Fault}]
    def faults = list("faults/faults.yml") { |data| Equipment::Fault.new(data) }

    # @return [Hash{Symbol => Equipment::Repair}]
    def repairs = list("faults/repairs.yml") { |data| Equipment::Repair.new(data) }

    # @return [Hash{Symbol => Stations::Defect}]
    def findings = list("faults/findings.yml") { |data| Stations::Defect.new(data) }

    # @return [Array<Symbol>] what can be marked against a tester
    def mistakes = list("procedures/shared/mistakes.yml") { |data| data }.keys

    # @return [Words] for all that these facts and the core say
    def words = @words ||= Words.read(File.join(@root, "words"))

    # Steps that several procedures take by name.
    def shared_steps = @shared_steps ||= list("procedures/shared/preliminaries.yml") { |data| data }

    # @return [Array<String>] paths of the station files that ship with the demo
    def self.demo_files = Dir[File.join(ROOT, "demo/stations/*.yml")].sort

    # @return [Array<Stations::Station>] the stations that ship with the demo
    def demo_stations = @demo_stations ||= self.class.demo_files.map { |path| Stations::Station.read(path, self) }

    private

    def set(folder)
      @sets[folder] ||= Dir[File.join(@root, folder, "*.yml")]
        .sort
        .to_h do |path|
          item = yield(Facts.parse(File.read(path), path))
          [item.id, item]
        end
        .freeze
    end

    def list(file)
      path = File.join(@root, file)
      @sets[file] ||= Facts.of(YAML.safe_load_file(path))
        .to_h { |data| [data[:id].to_sym, yield(data)] }
        .freeze
    end
  end
end
