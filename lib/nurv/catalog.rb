# frozen_string_literal: true

module Nurv
  # The facts of the trade as values: assemblies, kits, procedures, faults, sites, policies, and the words for them.
  # Stands on top: whoever needs it is handed it, and nothing below knows where facts come from. There can be several:
  # the one that ships, one with an instructor's own added, one that an old exam was held under.
  class Catalog
    ROOT = File.expand_path("../../data", __dir__)
    # What each kind of fact must look like. All but the demo, which is stations.
    KINDS = {
      assemblies: Shapes::Assembly,
      kits: Shapes::Kit,
      mistakes: Shapes::Mistake,
      shared_steps: Shapes::Step,
      shared_settings: Shapes::Setting,
      procedures: Shapes::Procedure,
      policies: Shapes::Policy,
      sites: Shapes::Site,
      faults: Shapes::Fault,
      repairs: Shapes::Repair,
      findings: Shapes::Defect
    }.freeze

    # The facts that ship with this version, read when they are asked for.
    #
    # @return [Catalog]
    def self.shipped = new(Folder.new(ROOT), Words.read(File.join(ROOT, "words")))

    # @param data [Hash{Symbol => Array<Hash>}] kind => facts, as #to_data has it
    # @param words [Words]
    # @return [Catalog] not yet looked into; see Check
    def self.of(data, words) = new(Plain.new(Facts.of(data)), words)

    # @return [Words] for all that these facts and the core say
    attr_reader :words

    # @param source [Folder, Plain]
    # @param words [Words]
    def initialize(source, words)
      @source = source
      @words = words
      @sets = {}
    end

    # @return [Hash{Symbol => Equipment::Assembly}]
    # @raise [DataError]
    def assemblies = set(:assemblies) { |data| Equipment::Assembly.new(data) }

    # @return [Hash{Symbol => Equipment::Kit}]
    # @raise [DataError]
    def kits = set(:kits) { |data| Equipment::Kit.new(data) }

    # @return [Hash{Symbol => Procedures::Procedure}] with the steps that they share written out
    # @raise [DataError]
    def procedures = set(:procedures) { |data| Procedures::Procedure.new(data) }

    # @return [Hash{Symbol => Grading::Policy}]
    # @raise [DataError]
    def policies = set(:policies) { |data| Grading::Policy.new(data) }

    # @return [Hash{Symbol => Stations::Site}]
    # @raise [DataError]
    def sites = set(:sites) { |data| Stations::Site.new(data) }

    # @return [Hash{Symbol => Equipment::Fault}]
    # @raise [DataError]
    def faults = set(:faults) { |data| Equipment::Fault.new(data) }

    # @return [Hash{Symbol => Equipment::Repair}]
    # @raise [DataError]
    def repairs = set(:repairs) { |data| Equipment::Repair.new(data) }

    # @return [Hash{Symbol => Stations::Defect}]
    # @raise [DataError]
    def findings = set(:findings) { |data| Stations::Defect.new(data) }

    # @return [Array<Symbol>] what can be marked against a tester
    # @raise [DataError]
    def mistakes = set(:mistakes) { |data| data }.keys

    # @return [Array<Symbol>] those that change what the gauge shows after them
    # @raise [DataError]
    def disturbing = set(:mistakes) { |data| data }.select { |_, data| data[:disturbs] }.keys

    # @param mistake [Symbol]
    # @return [Symbol, nil] what must have been done for it to be true; nil: nothing in particular
    # @raise [DataError]
    def happened_for(mistake) = set(:mistakes) { |data| data }.dig(mistake, :happened)&.to_sym

    # @return [Hash{Symbol => Hash}] steps that several procedures take by name
    # @raise [DataError]
    def shared_steps = set(:shared_steps) { |data| data }

    # @return [Hash{Symbol => Hash}] settings that several procedures take by name
    # @raise [DataError]
    def shared_settings = set(:shared_settings) { |data| data }

    # @return [Hash{Symbol => Array<Hash>}] all of it as plain data, read back by .of
    def to_data = KINDS.keys.to_h { |kind| [kind, @source.entries(kind).map(&:last)] }

    # @return [String] alike for catalogues that say the same, on every machine
    def digest = @digest ||= Digest::SHA256.hexdigest(JSON.generate(to_data))[0, 24]

    # This one with other facts in it.
    #
    # What an instructor can bring. Mistakes have words of Nurv's own, and policies are kept beside the catalogue.
    OWN = (KINDS.keys - %i[mistakes policies]).freeze

    # @param own [Hash{Symbol => Array<Hash>}] kind => facts; one with an id that is here already stands in its place
    # @return [Catalog]
    # @raise [DataError] with everything that is wrong with them, or that no longer goes together
    def with(own)
      added = Facts.of(own)
      unknown = added.reject { |kind, list| OWN.include?(kind) && list.is_a?(Array) }
      raise DataError.new("own data", unknown.map { |kind, _| own_kind(kind) }) if unknown.any?

      merged =
        to_data.to_h do |kind, list|
          other = added.fetch(kind, [])
          ids = other.map { |data| data[:id] if data.is_a?(Hash) }
          [kind, list.reject { |data| ids.include?(data[:id]) } + other]
        end
      Catalog.of(merged, words).tap do |catalog|
        Check.new(catalog).check!("own data")
        found = Trial.new(catalog, ids_of(added)).problems
        raise DataError.new("own data", found) if found.any?
      end
    end

    # @param own [Hash{Symbol => Array<Hash>}] facts that #with has taken
    # @return [Array<Array(String, Remark)>] faults among them that no correct tester finds, and what is missing
    def unfindable(own) = Trial.new(self, ids_of(Facts.of(own))).unfindable

    # @return [Array<String>] paths of the station files that ship with the demo
    def self.demo_files = Dir[File.join(ROOT, "demo/stations/*.yml")].sort

    # @return [Array<Stations::Station>] the stations that ship with the demo
    def demo_stations = @demo_stations ||= self.class.demo_files.map { |path| Stations::Station.read(path, self) }

    private

    def ids_of(own) = own.transform_values { |list| list.map { |data| data[:id].to_sym } }

    def own_kind(kind) =
      [kind.to_s, OWN.include?(kind) ? Remark.new(:should_be_list) : Remark.new(:unknown_key, listed: OWN)]

    def shared = {steps: shared_steps, settings: shared_settings}

    def set(kind)
      @sets[kind] ||=
        @source
          .entries(kind)
          .to_h do |path, data|
            data = Procedures::Procedure.written_out(data, shared, path) if kind == :procedures
            item = yield(KINDS.fetch(kind).check!(data, path))
            [data[:id].to_sym, item]
          end
          .freeze
    end
  end
end
