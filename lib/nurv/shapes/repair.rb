# frozen_string_literal: true

module Nurv
  module Shapes
    # Something that can be done to a part.
    Repair =
      Shape.define do
        required(:id).value(:name?)
        required(:label).value(:words?)
        required(:parts).value(:names?, min_size?: 1)
      end
  end
end
