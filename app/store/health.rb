# frozen_string_literal: true

require "fileutils"

module Store
  # Whether the server can save work: the database can be written, is of this version, the disk has room, and how much
  # work waits.
  class Health < Drawer
    # Writing one row succeeds on a full disk, in space the database has taken before. This much is written beside it.
    PROBE_BYTES = 1 << 20

    # @return [Hash] ok, and what is looked at; says nothing of anybody
    def to_h
      facts = {
        database_writable: writable?,
        disk_has_room: room?,
        migrations_current: Database.current?(@database),
        waiting_work: @stores.jobs.length
      }
      {ok: facts.except(:waiting_work).values.all?, **facts}
    rescue Sequel::Error => error
      {ok: false, problem: error.class.name.split("::").last}
    end

    private

    # Committed, since a write that is rolled back never reaches the disk.
    def writable?
      @database.transaction do
        @database[:tries].insert_conflict(:replace).insert(key: "health", count: 0, last_ms: Clock.wall_ms)
      end
      true
    rescue Sequel::Error
      false
    end

    def room?
      path = File.join(SETTINGS.home, ".health-#{Process.pid}-#{Thread.current.object_id}")
      File.open(path, "wb") do |file|
        file.write("\0" * PROBE_BYTES)
        file.fsync
      end
      true
    rescue SystemCallError
      false
    ensure
      FileUtils.rm_f(path)
    end
  end
end
