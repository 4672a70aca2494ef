# frozen_string_literal: true

module Nurv
  class Catalog
    # Facts as plain data, out of a database or a file of a class.
    class Plain
      # @param data [Hash{Symbol => Array<Hash>}] kind => facts
      def initialize(data)
        @data = data
      end

      # @param kind [Symbol] one of KINDS
      # @return [Array<Array(String, Hash)>] a name for it, and the facts
      def entries(kind) =
        Array(@data[kind]).map { |data| ["#{kind} #{data.is_a?(Hash) ? data[:id] : data.inspect[0, 40]}", data] }
    end
  end
end
