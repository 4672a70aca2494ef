# frozen_string_literal: true

# Work that met a busy database waits for a while; work of a process that died is taken up again.
Sequel.migration do
  change do
    add_column :jobs, :from_ms, Integer, null: false, default: 0
    add_column :jobs, :lease_ms, Integer
  end
end
