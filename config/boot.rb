# frozen_string_literal: true

require "bundler/setup"
$LOAD_PATH.unshift File.expand_path("../lib", __dir__)
require "nurv"
require_relative "settings"
SETTINGS = Settings.new unless defined?(SETTINGS)
require_relative "database"

# The application around the core: its loader knows the core, the core does not know it.
APP_LOADER = Zeitwerk::Loader.new
APP_LOADER.push_dir(File.expand_path("../app", __dir__))
APP_LOADER.ignore(File.expand_path("../app/views", __dir__), File.expand_path("../app/store/migrations", __dir__))
APP_LOADER.setup

Database.migrate(DB)
Nurv::Loader.eager_load
APP_LOADER.eager_load
