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
        optional(:optional).value(:yes_or_no?)
      end
  end
end
