# frozen_string_literal: true

# The version of the water's laws that a grade was worked out under. Those kept before were under the first.
Sequel.migration do
  change do
    alter_table(:grades) { add_column :water, Integer, null: false, default: 1 }
  end
end
