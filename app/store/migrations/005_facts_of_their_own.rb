# frozen_string_literal: true

# Catalogues of facts: an instructor's own, and the one that each bench and each exam is held under.
Sequel.migration do
  up do
    create_table(:catalogs) do
      String :digest, primary_key: true
      # JSON, deflated.
      File :body, null: false
      Time :created_at, null: false
    end
    create_table(:own_facts) do
      foreign_key :owner_id, :users, primary_key: true
      String :body, text: true, null: false
    end
    # Which of them; nothing: that which ships with the version that finds it so, filled in when it starts.
    alter_table(:attempts) { add_column :catalog, String }
    alter_table(:exams) { add_column :catalog, String }
  end

  down do
    alter_table(:exams) { drop_column :catalog }
    alter_table(:attempts) { drop_column :catalog }
    drop_table(:own_facts)
    drop_table(:catalogs)
  end
end
