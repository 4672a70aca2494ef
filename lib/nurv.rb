# frozen_string_literal: true

require "date"
require "digest"
require "digest/sha2"
require "json"
require "yaml"
require "zlib"
require "zeitwerk"

# The core of Nurv: hydraulics, bench, procedures, grading. It knows neither the web nor the database.
module Nurv
  Loader = Zeitwerk::Loader.for_gem(warn_on_extra_files: false)
  Loader.ignore("#{__dir__}/nurv/errors.rb")
  Loader.inflector.inflect("version" => "VERSION")
  Loader.setup
end

require_relative "nurv/errors"
