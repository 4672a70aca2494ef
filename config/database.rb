# frozen_string_literal: true

require "sequel"
require "sequel/connection_pool/threaded"
require "fileutils"

Sequel.extension :migration
# Times are written in UTC and read as UTC, whatever zone the machine is in.
Sequel.default_timezone = :utc

# Opens and migrates the SQLite file.
module Database
  MIGRATIONS = File.expand_path("../app/store/migrations", __dir__)

  # Sequel's pool lets other threads run, by a sleep of no length, each time a connection is given back, and holds its
  # lock while it does. Under Ruby's own lock that is as long as another thread works: ten acts wait for one another,
  # and one of them in the middle of a transaction that all processes wait for. The sleep is for fibers that wait for a
  # connection. Here nobody waits, since there are more connections than threads.
  class Pool < Sequel::ThreadedConnectionPool
    private

    # What a thread has, only it sets.
    def owned_connection(thread) = @allocated[thread]

    def release(thread)
      checkin_connection(@allocated.delete(thread))
      @waiter.signal
      nil
    end
  end
  private_constant :Pool

  module_function

  # busy_handler_timeout lets go of Ruby's lock while it waits; FULL keeps the last commit through a power cut.
  def connect(path, threads: 5)
    FileUtils.mkdir_p(File.dirname(path), mode: 0o700)
    Sequel.connect(adapter: "sqlite", database: path, max_connections: threads + 2, pool_class: Pool,
      after_connect: ->(connection) { connection.busy_handler_timeout = 5_000 },
      connect_sqls: ["PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "PRAGMA foreign_keys = ON"])
      .tap do |database|
        furnish(database)
        database.test_connection
        Dir["#{path}*"].each { |file| File.chmod(0o600, file) if File.file?(file) && File.owned?(file) }
      end
  end

  # What the stores take for granted of a database, wherever it is.
  #
  # @return [Sequel::Database] itself
  def furnish(database)
    database.transaction_mode = :immediate
    # SQLite has integers of its own, and gives them as such.
    database.conversion_procs.delete("integer")
    database.conversion_procs["boolean"] = ->(value) { value != 0 }
    %w[timestamp datetime].each { |type| database.conversion_procs[type] = moments(database) }
    known = {}.compare_by_identity
    database.define_singleton_method(:known_columns) { known }
    database.extend_datasets(KnownColumns)
    database
  end

  # As Sequel writes a time. It reads one by guessing at its form, which costs more than the rest of a row.
  MOMENT = /\A(\d{4})-(\d\d)-(\d\d) (\d\d):(\d\d):(\d\d)(\.\d+)?\z/
  private_constant :MOMENT

  # @return [Proc] from a column's text to a Time, in UTC
  def moments(database)
    lambda do |text|
      next database.to_application_timestamp(text) unless text.is_a?(String) && (found = MOMENT.match(text))

      numbers = found.captures
      Time.utc(*numbers.first(5).map(&:to_i), "#{numbers[5]}#{numbers[6]}".to_r)
    end
  end

  # Sequel works out anew with each answer what its columns are called and how each is read, which takes longer than to
  # read a row. A prepared statement has the same list of columns each time, so that is kept by the list itself.
  module KnownColumns
    MOST = 1_000
    private_constant :MOST

    # The rows are those that Sequel makes.
    def fetch_rows(sql, &block)
      execute(sql) do |result|
        self.columns = known(result).first
        read(result, &block)
      end
    end

    # Of a prepared statement, asked by its name: Sequel's own way makes a dataset for each time that it is asked, to
    # carry the values, and takes longer over it than SQLite over the answer.
    #
    # @param name [Symbol]
    # @param values [Hash{Symbol => Object}] by placeholder
    # @return [Array<Hash>]
    def answers(name, values)
      rows = []
      db.execute(name, arguments: values) { |result| read(result) { |row| rows << row } }
      rows
    end

    private

    def read(result)
      names, readers = known(result)
      result.each do |values|
        row = names.zip(values).to_h
        readers.each { |name, reader| row[name] &&= reader.call(row[name]) }
        yield row
      end
    end

    def known(result)
      kept = db.known_columns
      kept.clear if kept.size > MOST
      kept[result.columns] ||=
        begin
          names = result.columns.map { |name| output_identifier(name) }
          readers = result.types.map { |type| db.conversion_procs[base_type_name(type)] }
          [names, names.zip(readers).select(&:last)]
        end
    end
  end
  private_constant :KnownColumns

  # @param keep [Boolean] copy what is there before it is changed
  # @return [String, nil] where the copy is
  def migrate(database, keep: false)
    return if Sequel::Migrator.is_current?(database, MIGRATIONS)

    kept = copy(database) if keep && database.table_exists?(:users)
    # All of a migration or nothing: SQLite can, though Sequel does not presume it.
    Sequel::Migrator.run(database, MIGRATIONS, use_transactions: true)
    kept
  end

  def current?(database) = Sequel::Migrator.is_current?(database, MIGRATIONS)

  def copy(database)
    target = "#{database.opts[:database]}.before-update-#{Time.now.utc.strftime("%Y%m%d-%H%M%S")}"
    database.run("VACUUM INTO #{database.literal(target)}") unless File.exist?(target)
    target
  end
end
