# frozen_string_literal: true

# An instructor's versions of a procedure, each as it was kept; and what was worked out of one, by its content.
Sequel.migration do
  change do
    create_table(:adopted_procedures) do
      primary_key :id
      foreign_key :owner_id, :users, null: false
      String :procedure, null: false
      Integer :version, null: false
      String :body, text: true, null: false
      Integer :kept_ms, null: false
      unique %i[owner_id procedure version]
    end
    create_table(:proofs) do
      String :digest, primary_key: true
      String :body, text: true, null: false
      Integer :made_ms, null: false
    end
  end
end
