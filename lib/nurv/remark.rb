# frozen_string_literal: true

module Nurv
  # Something to be said, as a fact: an id, and the numbers and names that belong to it. Words are found for it at the
  # edge of the house (Words), so that it can be kept, counted, reworded and translated.
  class Remark
    attr_reader :id, :values

    # @param id [Symbol] under `remarks` in data/words
    # @param values [Hash{Symbol => Object}] numbers, names, lists of names, and what a person typed
    def initialize(id, **values)
      @id = id
      @values = values.freeze
      freeze
    end

    # @param data [Hash] as #to_h has it, or as JSON gave it back
    # @return [Remark]
    def self.from(data) = new(data.fetch(:id).to_sym, **data.except(:id))

    # @return [Boolean] the same thing is said with the same numbers
    def ==(other) = other.is_a?(Remark) && id == other.id && values == other.values
    alias_method :eql?, :==

    def hash = [id, values].hash

    # @return [Hash{Symbol => Object}] plain data, read back by .from
    def to_h = {id: id, **values}

    # @return [String]
    def to_json(*) = JSON.generate(to_h)

    # For logs of the server and for those who read code; people are told by Words.
    #
    # @return [String] like "held_off: inches=4.0 level=centre_line"
    def to_s = values.empty? ? id.to_s : "#{id}: #{values.map { |name, value| "#{name}=#{value}" }.join(" ")}"
  end
end
