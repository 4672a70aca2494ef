# frozen_string_literal: true

# How far a bench's water has run on since its newest act, so that a process that takes it up need not work that out.
Sequel.migration do
  change do
    alter_table(:snapshots) { add_column :running, String, text: true }
  end
end
