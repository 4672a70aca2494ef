# frozen_string_literal: true

require "sequel"
require "fileutils"

# Opens and migrates the SQLite file.
module Database
  MIGRATIONS = File.expand_path("../app/store/migrations", __dir__)

  module_function

  # busy_handler_timeout lets go of Ruby's lock while it waits; FULL keeps the last commit through a power cut.
  def connect(path, threads: 5)
    FileUtils.mkdir_p(File.dirname(path))
    Sequel.connect(adapter: "sqlite", database: path, max_connections: threads + 2,
      after_connect: ->(connection) { connection.busy_handler_timeout = 5_000 },
      connect_sqls: ["PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "PRAGMA foreign_keys = ON"])
      .tap { |database| database.transaction_mode = :immediate }
  end

  def migrate(database)
    Sequel.extension :migration
    Sequel::Migrator.run(database, MIGRATIONS)
  end
end

DB = Database.connect(SETTINGS.database, threads: SETTINGS.threads) unless defined?(DB)
