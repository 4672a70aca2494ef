# frozen_string_literal: true

module Nurv
  module Shapes
    # A place with an assembly: its people, and what there is to look at.
    Site =
      Shape.define do
        required(:id).value(:name?)
        required(:name).value(:words?)
        required(:place).value(:words?)
        required(:service).value(:words?)
        required(:hazard).value(one_of?: %w[low high])
        # Fire protection hangs on it.
        optional(:fire).value(:yes_or_no?)
        required(:people).value(:array, min_size?: 1).each do
          hash do
            required(:id).value(:name?)
            required(:name).value(:words?)
            required(:role).value(:words?)
            required(:topics).value(:names?)
            # What is said to this person and what they answer, where it is not the usual, by topic.
            optional(:says).value(:by_name?)
            optional(:replies).value(:by_name?)
          end
        end
        required(:things).array(:hash) do
          required(:id).value(:name?)
          required(:label).value(:words?)
          required(:text).value(:words?)
          optional(:finding).value(:name?)
        end
      end
  end
end
