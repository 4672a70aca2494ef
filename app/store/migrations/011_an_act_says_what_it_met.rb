# frozen_string_literal: true

# Until an attempt is graded each act keeps the water that it met, so that it need not be worked out a second time.
Sequel.migration do
  change do
    add_column :events, :met, String, text: true
  end
end
