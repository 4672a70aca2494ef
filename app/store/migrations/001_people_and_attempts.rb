# frozen_string_literal: true

Sequel.migration do
  change do
    create_table(:users) do
      primary_key :id
      String :role, null: false
      String :name, null: false
      String :login, null: false, unique: true
      String :password_digest, null: false
      Time :created_at, null: false
    end
    create_table(:stations) do
      primary_key :id
      foreign_key :owner_id, :users, null: false
      String :title, null: false
      String :body, text: true, null: false
      Time :created_at, null: false
      index :owner_id
    end
    create_table(:attempts) do
      primary_key :id
      foreign_key :station_id, :stations
      foreign_key :instructor_id, :users, null: false
      foreign_key :trainee_id, :users, null: false
      String :station_body, text: true, null: false
      Integer :seed, null: false
      String :mode, null: false
      String :policy, null: false, default: "standard"
      String :status, null: false, default: "assigned"
      # The simulated clock: it stood at anchor_sim_ms when the wall clock stood at anchor_wall_ms.
      Integer :anchor_wall_ms
      Integer :anchor_sim_ms, null: false, default: 0
      Integer :seen_wall_ms
      Integer :last_seq, null: false, default: 0
      Time :created_at, null: false
      Time :started_at
      Time :submitted_at
      Time :published_at
      index [:instructor_id, :status]
      index :trainee_id
    end
    create_table(:events) do
      foreign_key :attempt_id, :attempts, null: false
      Integer :seq, null: false
      String :action_id, null: false
      Integer :at_ms, null: false
      String :body, text: true, null: false
      Time :recorded_at, null: false
      primary_key [:attempt_id, :seq]
      unique [:attempt_id, :action_id]
    end
    create_table(:snapshots) do
      foreign_key :attempt_id, :attempts, primary_key: true
      Integer :seq, null: false
      String :body, text: true, null: false
    end
    create_table(:audits) do
      primary_key :id
      foreign_key :user_id, :users
      String :act, null: false
      String :subject, null: false
      String :detail, text: true
      Time :at, null: false
    end
    create_table(:throttles) do
      String :key, primary_key: true
      Integer :count, null: false
      Integer :expires_at, null: false
    end
  end
end
