# frozen_string_literal: true

module Nurv
  module Shapes
    # What can be marked against a tester; its words stand in data/words.
    Mistake =
      Shape.define do
        required(:id).value(:name?)
        # It changes what the gauge shows after it.
        optional(:disturbs).value(:yes_or_no?)
      end
  end
end
