# frozen_string_literal: true

# A class whose trainees may practise on their own, and by which procedures; and what was drilled.
Sequel.migration do
  change do
    add_column :classes, :practice, String, text: true
    # Which drill a bench is, if it is one, and the act from which on its tester's own hands are at work.
    add_column :attempts, :drill, String
    add_column :attempts, :drill_from, Integer, null: false, default: 0
    create_table(:drill_tries) do
      primary_key :id
      foreign_key :user_id, :users, null: false
      foreign_key :class_id, :classes, null: true
      foreign_key :attempt_id, :attempts, null: false, unique: true
      String :drill, null: false
      String :procedure, null: false
      String :steps, null: false
      Float :score, null: false
      Integer :ms, null: false
      DateTime :done_at, null: false
      index %i[user_id drill]
      index :class_id
    end
    # What was predicted of how an RP protects, case by case.
    create_table(:predictions) do
      primary_key :id
      foreign_key :user_id, :users, null: false
      String :case, null: false
      Float :score, null: false
      DateTime :done_at, null: false
      index %i[user_id case]
    end
    # Drills that an instructor gave to somebody, in their order; how far one is follows from the tries since.
    create_table(:drill_sets) do
      primary_key :id
      foreign_key :class_id, :classes, null: false
      foreign_key :user_id, :users, null: false
      String :drills, null: false
      DateTime :given_at, null: false
      index :user_id
    end
  end
end
