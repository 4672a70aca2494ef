# frozen_string_literal: true

module Nurv
  module Shapes
    # What can be marked against a tester; its words stand in data/words.
    Mistake =
      Shape.define do
        required(:id).value(:name?)
        # It changes what the gauge shows after it.
        optional(:disturbs).value(:yes_or_no?)
        # What must have been done at the bench for it to be true of somebody.
        optional(:happened).value(one_of?: %w[water_off water_on hose_on canopy_off])
      end
  end
end
