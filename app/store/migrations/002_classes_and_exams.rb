# frozen_string_literal: true

Sequel.migration do
  change do
    alter_table(:users) do
      add_column :admin, TrueClass, null: false, default: false
      # A trainee from a roster who has not chosen a PIN yet.
      add_column :claimed, TrueClass, null: false, default: true
      add_column :units, String, null: false, default: "psi"
      add_column :time_zone, String, null: false, default: "UTC"
    end
    create_table(:classes) do
      primary_key :id
      foreign_key :owner_id, :users, null: false
      String :name, null: false
      String :join_code, null: false, unique: true
      Time :created_at, null: false
      Time :archived_at
      index :owner_id
    end
    create_table(:members) do
      foreign_key :class_id, :classes, null: false
      foreign_key :user_id, :users, null: false
      primary_key [:class_id, :user_id]
      index :user_id
    end
    create_table(:policies) do
      primary_key :id
      foreign_key :owner_id, :users, null: false
      String :name, null: false
      String :body, text: true, null: false
      index :owner_id
    end
    # What an instructor changed in a procedure: label, limits, points.
    create_table(:overlays) do
      foreign_key :owner_id, :users, null: false
      String :procedure, null: false
      String :body, text: true, null: false
      primary_key [:owner_id, :procedure]
    end
    create_table(:exams) do
      primary_key :id
      foreign_key :class_id, :classes, null: false
      foreign_key :owner_id, :users, null: false
      String :title, null: false
      String :status, null: false, default: "draft"
      Integer :seed, null: false
      String :policy, text: true, null: false
      # The stations as they were when the exam was set up: [{title, body, pool}].
      String :stations, text: true, null: false
      TrueClass :shuffled, null: false, default: false
      Time :created_at, null: false
      Time :opened_at
      Time :closed_at
      index :class_id
      index :owner_id
    end
    alter_table(:attempts) do
      add_column :class_id, Integer
      add_column :exam_id, Integer
      add_column :position, Integer, null: false, default: 0
      add_column :policy_body, String, text: true
      add_column :extra_ms, Integer, null: false, default: 0
      add_column :skipped_ms, Integer, null: false, default: 0
      add_column :paused_wall_ms, Integer
      # What the gauge showed when the tester's page last asked, for the room view.
      add_column :needle_psid, Float
      add_column :retest_of, Integer
      add_column :comment, String, text: true
      add_index :exam_id
      add_index [:class_id, :status]
    end
    alter_table(:snapshots) do
      # Steps reached and alarms, for those who watch the room.
      add_column :progress, String, text: true
    end
    # Grades worked out before; the log says the same.
    create_table(:grades) do
      foreign_key :attempt_id, :attempts, primary_key: true
      String :key, null: false
      Float :score, null: false
      TrueClass :pass, null: false
      String :body, text: true, null: false
      String :mistakes, text: true, null: false
      # With overrides laid over it: score, pass, how many lines.
      String :standing, text: true, null: false
    end
    create_table(:overrides) do
      primary_key :id
      foreign_key :attempt_id, :attempts, null: false
      foreign_key :user_id, :users, null: false
      String :line, null: false
      Float :earned, null: false
      String :reason, text: true, null: false
      Time :at, null: false
      index :attempt_id
    end
    alter_table(:audits) { add_index :subject }
  end
end
