# frozen_string_literal: true

# Who came by a class's code, and waits for the instructor to let them in.
Sequel.migration do
  change do
    # open: in at once; ask: they wait; begun: they wait once the class has begun
    add_column :classes, :newcomers, String, null: false, default: "begun"
    create_table(:newcomers) do
      foreign_key :class_id, :classes, null: false
      foreign_key :user_id, :users, null: false
      DateTime :came_at, null: false
      primary_key %i[class_id user_id]
      index :user_id
    end
  end
end
