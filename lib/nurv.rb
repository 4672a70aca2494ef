# frozen_string_literal: true

require "date"
require "json"
require "yaml"
require "zlib"
require "zeitwerk"

# The core of Nurv: hydraulics, bench, procedures, grading. It knows neither the web nor the database.
module Nurv
  Loader = Zeitwerk::Loader.for_gem(warn_on_extra_files: false)
  Loader.inflector.inflect("cli" => "CLI")
  Loader.ignore("#{__dir__}/nurv/errors.rb")
  Loader.setup

  # @return [Symbol, Object] the same data with every hash key a symbol, frozen all the way down
  def self.deep_freeze(value)
    case value
    when Hash then value.to_h { |key, item| [key.to_s.to_sym, deep_freeze(item)] }.freeze
    when Array then value.map { |item| deep_freeze(item) }.freeze
    else value.freeze
    end
  end
end

require_relative "nurv/errors"
