# frozen_string_literal: true

module Nurv
  module Shapes
    # One thing to be recorded: a reading with its unit and limit, or an observation with its choices.
    Item =
      Shape.define do
        required(:id).value(:name?)
        required(:component).value(:name?)
        required(:label).value(:words?)
        optional(:unit).value(one_of?: %w[psid psi])
        optional(:at_least).value(within?: 0..15)
        optional(:choices).value(:names_by_name?)
        optional(:gives_way_to).value(:name?)
        optional(:step).value(:name?)
        # What shows at the bench where an observation is to be written in these words.
        optional(:signs).value(:by_name?)
        # The words that hold where nothing is to be seen before the test.
        # Other items, and the words in which they end the test before this one is read.
        optional(:called_off_by).value(:by_name?)
        optional(:at_rest).value(:words?)
        optional(:optional).value(:yes_or_no?)
      end
  end
end
