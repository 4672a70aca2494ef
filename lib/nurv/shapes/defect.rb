# frozen_string_literal: true

module Nurv
  module Shapes
    # Something wrong that is seen and not measured.
    Defect =
      Shape.define do
        required(:id).value(:name?)
        required(:at).value(:name?)
        required(:label).value(:words?)
        required(:text).value(:words?)
        required(:stops).value(:yes_or_no?)
      end
  end
end
