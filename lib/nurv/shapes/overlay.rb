# frozen_string_literal: true

module Nurv
  module Shapes
    # What an instructor changed in a procedure.
    Overlay =
      Shape.define do
        optional(:label).value(:words?)
        optional(:diagnosis_only).value(:yes_or_no?)
        optional(:limits).value(numbers_by_name?: 0..15)
        optional(:points).value(numbers_by_name?: 0..100)
        optional(:critical).value(:by_name?)
      end
  end
end
