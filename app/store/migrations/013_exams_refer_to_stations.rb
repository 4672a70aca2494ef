# frozen_string_literal: true

# Which stations an exam is set up from, as references that the database holds; a station in use is archived, and an
# exam that could not be opened by the clock says why.
Sequel.migration do
  up do
    create_table(:exam_stations) do
      foreign_key :exam_id, :exams, null: false
      foreign_key :station_id, :stations, null: false
      primary_key %i[exam_id station_id]
      index :station_id
    end
    add_column :stations, :archived_at, DateTime
    add_column :exams, :problem, String, text: true
    owners = from(:stations).select_hash(:id, :owner_id)
    from(:exams)
      .select_map(%i[id owner_id stations])
      .each do |id, owner_id, stations|
        JSON
          .parse(stations)
          .map { |item| item["station_id"] }
          .uniq
          .select { |station_id| owners[station_id] == owner_id }
          .each { |station_id| from(:exam_stations).insert(exam_id: id, station_id: station_id) }
      rescue JSON::ParserError, NoMethodError
        # An exam that cannot be read refers to nothing.
        next
      end
  end

  down do
    drop_table :exam_stations
    drop_column :stations, :archived_at
    drop_column :exams, :problem
  end
end
