# frozen_string_literal: true

module Nurv
  module Procedures
    # An adopted procedure as a file: which procedure it is of, and what was changed in it.
    class AdoptedFile
      # @param text [String] YAML with `procedure` and `changes`
      # @param catalog [Object] whose #procedures it is of
      # @param path [String] a name for it
      # @return [AdoptedFile]
      # @raise [DataError] with everything that is wrong with it
      def self.parse(text, catalog, path = "procedure")
        data = Facts.parse(text, path)
        changes = data.is_a?(Hash) ? data[:changes] : nil
        raise DataError.new(path, [["changes", Remark.new(:missing)]]) unless changes.is_a?(Hash)

        procedure = catalog.procedures[data[:procedure].to_s.to_sym]
        unless procedure
          known = Remark.new(:not_known, typed: data[:procedure].to_s, listed: catalog.procedures.keys)
          raise DataError.new(path, [["procedure", known]])
        end

        new(procedure, Shapes::Overlay.check!(changes.except(:version), path))
      end

      # @return [Boolean] whether text looks like such a file
      def self.of?(text) = text.match?(/^procedure:/) && text.match?(/^changes:/)

      # @return [Procedure] as it ships
      attr_reader :procedure

      # @param procedure [Procedure]
      # @param changes [Hash] of the shape Shapes::Overlay
      def initialize(procedure, changes)
        @procedure = procedure
        @changes = changes
      end

      # @return [Procedure] as adopted
      # @raise [DataError] where it contradicts itself
      def adopted = procedure.adjusted(@changes)

      # @param wanted [Procedure] that it is to be of
      # @return [Hash] the changes
      # @raise [DataError] of another, or where it contradicts itself
      def overlay(wanted)
        if procedure.id != wanted.id
          raise DataError.new("procedure", [["procedure", Remark.new(:other_procedure, typed: procedure.id.to_s)]])
        end

        adopted
        @changes
      end
    end
  end
end
