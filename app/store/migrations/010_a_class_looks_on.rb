# frozen_string_literal: true

# A bench that a whole class looks at, at a pace of its own, and what the class is asked there.
Sequel.migration do
  change do
    add_column :attempts, :pace_percent, Integer, null: false, default: 100
    create_table(:boards) do
      primary_key :id
      foreign_key :class_id, :classes, null: false, unique: true
      foreign_key :attempt_id, :attempts, null: false, unique: true
      String :view, null: false
      # Whether it says why the needle does what it does.
      TrueClass :says_why, null: false, default: false
      # Acts that come again by themselves after it was run back.
      String :coming, text: true, null: false
    end
    create_table(:board_questions) do
      primary_key :id
      foreign_key :class_id, :classes, null: false
      foreign_key :attempt_id, :attempts, null: false
      String :kind, null: false
      Integer :asked_ms, null: false
      String :truth
      # Hands that went up, by choice.
      String :hands, text: true, null: false
      DateTime :asked_at, null: false
      DateTime :closed_at
      index :class_id
    end
    create_table(:board_answers) do
      foreign_key :question_id, :board_questions, null: false
      foreign_key :user_id, :users, null: false
      String :choice, null: false
      primary_key %i[question_id user_id]
      index :user_id
    end
  end
end
