# frozen_string_literal: true

module Nurv
  class Catalog
    # Facts as files in a folder. The only core code that opens files of data.
    class Folder
      # A file for each fact, or one file with a list.
      FILES = {
        assemblies: "assemblies/*.yml",
        kits: "kits/*.yml",
        mistakes: "procedures/shared/mistakes.yml",
        shared_steps: "procedures/shared/preliminaries.yml",
        shared_settings: "procedures/shared/settings.yml",
        procedures: "procedures/*.yml",
        policies: "policies/*.yml",
        sites: "sites/*.yml",
        faults: "faults/faults.yml",
        repairs: "faults/repairs.yml",
        findings: "faults/findings.yml"
      }.freeze

      # @param root [String] a folder laid out as data/
      def initialize(root)
        @root = root
        @read = {}
      end

      # @param kind [Symbol] one of KINDS
      # @return [Array<Array(String, Hash)>] path and facts, in the order of the files
      # @raise [DataError] for a file that is no plain YAML
      def entries(kind)
        @read[kind] ||= Dir[File.join(@root, FILES.fetch(kind))].sort.flat_map { |path| read(path) }.freeze
      end

      private

      def read(path)
        data = Facts.parse(File.read(path), path, lists: true)
        data.is_a?(Array) ? data.each_with_index.map { |item, index| ["#{path}[#{index}]", item] } : [[path, data]]
      end
    end
  end
end
