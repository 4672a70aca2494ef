# frozen_string_literal: true

require "yaml"

# Sessions that the server knows, long work, cards with PINs, dated exams; and times in UTC, which were local without
# a zone.
Sequel.migration do
  up do
    create_table(:sessions) do
      String :digest, primary_key: true
      foreign_key :user_id, :users, null: false, on_delete: :cascade
      Integer :made_ms, null: false
      Integer :seen_ms, null: false
      index :user_id
    end
    create_table(:jobs) do
      primary_key :id
      foreign_key :owner_id, :users, on_delete: :cascade
      String :kind, null: false
      # One of a kind and subject waits at a time.
      String :subject, null: false, default: ""
      String :body, text: true, null: false, default: "{}"
      String :state, null: false, default: "waiting"
      Integer :done, null: false, default: 0
      Integer :total, null: false, default: 0
      Integer :tries, null: false, default: 0
      String :outcome, text: true
      String :problem, text: true
      Integer :made_ms, null: false
      Integer :ended_ms
      index %i[state id]
      index %i[kind subject]
    end
    # Wrong tries by name, address and code: how many, and when the last was.
    create_table(:tries) do
      String :key, primary_key: true
      Integer :count, null: false
      Integer :last_ms, null: false
      index :last_ms
    end
    drop_table(:throttles)
    alter_table(:users) do
      # The PIN that was given out, for the card; forgotten when its owner chooses another.
      add_column :card_pin, String
    end
    # For finding results by their station, without looking into its whole file.
    alter_table(:attempts) { add_column :station_title, String, null: false, default: "" }
    from(:attempts)
      .select_map(%i[id station_body])
      .each do |id, body|
        title =
          begin
            YAML.safe_load(body)["title"].to_s
          rescue
            # One that cannot be read is found by its trainee alone.
            ""
          end
        from(:attempts).where(id: id).update(station_title: title)
      end
    alter_table(:exams) { add_column :opens_at, Time }
    times = {
      users: [:created_at],
      stations: [:created_at],
      attempts: %i[created_at started_at submitted_at published_at],
      events: [:recorded_at],
      audits: [:at],
      classes: %i[created_at archived_at],
      exams: %i[created_at opened_at closed_at],
      overrides: [:at]
    }
    # Seconds that local time was ahead of UTC when each was written, as far as this machine can know.
    times.each do |table, columns|
      columns.each do |column|
        from(table)
          .exclude(column => nil)
          .select_map([Sequel[:rowid].as(:place), column])
          .each do |place, time|
            local = Time.local(time.year, time.month, time.day, time.hour, time.min, time.sec, time.usec)
            from(table).where(rowid: place).update(column => local.utc) unless local.utc_offset.zero?
          end
      end
    end
  end

  down { raise Sequel::Error, "There is no way back from this one; restore the copy made before it." }
end
