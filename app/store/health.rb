# frozen_string_literal: true

module Store
  # Whether the database can be written, is of this version, and how much work waits.
  class Health < Drawer
    # @return [Hash] ok, and what is looked at; says nothing of anybody
    def to_h
      facts = {
        database_writable: writable?,
        migrations_current: Database.current?(@database),
        waiting_work: @stores.jobs.length
      }
      {ok: facts[:database_writable] && facts[:migrations_current], **facts}
    rescue Sequel::Error => error
      {ok: false, problem: error.class.name.split("::").last}
    end

    private

    # Takes the lock for writing, writes, and takes it back.
    def writable?
      @database.transaction(rollback: :always) do
        @database[:tries].insert_conflict(:replace).insert(key: "health", count: 0, last_ms: Clock.wall_ms)
      end
      true
    rescue Sequel::Error
      false
    end
  end
end
