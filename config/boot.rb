# frozen_string_literal: true

require_relative "gems"
$LOAD_PATH.unshift File.expand_path("../lib", __dir__)
# What is written is for this server's account alone.
File.umask(0o077)
require "nurv"
require_relative "settings"
begin
  SETTINGS = Settings.new unless defined?(SETTINGS)
  SETTINGS.session_secret
  require_relative "database"
  require_relative "network"
  DB = Database.connect(SETTINGS.database, threads: SETTINGS.threads) unless defined?(DB)

  # The facts that ship. Whatever needs them is handed them from here.
  CATALOG = Nurv::Catalog.shipped unless defined?(CATALOG)

  # The application around the core: its loader knows the core, the core does not know it.
  APP_LOADER = Zeitwerk::Loader.new
  APP_LOADER.push_dir(File.expand_path("../app", __dir__))
  APP_LOADER.ignore(File.expand_path("../app/views", __dir__), File.expand_path("../app/store/migrations", __dir__))
  # Floors of the web, which need no names of their own: Web::ExamForm, Web::GradeSheet.
  APP_LOADER.collapse(File.expand_path("../app/web/{doors,forms,screens}", __dir__))
  APP_LOADER.setup

  # All that is kept, and the benches at work: made here, and handed on.
  STORES = Store::Cabinet.new(DB, CATALOG)
  KEEPER = Benches::Keeper.new(STORES)

  Database.migrate(DB, keep: SETTINGS.production?)
  STORES.catalogs.pin
rescue Settings::Wrong => error
  # A sentence for whoever starts it, and no backtrace.
  warn "Nurv cannot start: #{error.message}."
  exit 1
rescue Sequel::Error, SystemCallError => error
  warn "Nurv cannot start: the database #{SETTINGS.database} cannot be used (#{error.message.lines.first.strip})."
  exit 1
end
Nurv::Loader.eager_load
APP_LOADER.eager_load
