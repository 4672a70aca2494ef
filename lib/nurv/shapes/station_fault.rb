# frozen_string_literal: true

module Nurv
  module Shapes
    # A fault of a station: which, and how bad; or some of which a seed draws one.
    StationFault =
      Shape.define do
        optional(:id).value(:name?)
        optional(:severity).value(one_of?: Questions::SEVERITIES)
        optional(:one_of).value(:array, min_size?: 1).each do
          hash do
            required(:id).value(:name?)
            optional(:severity).value(one_of?: Questions::SEVERITIES)
          end
        end
      end
  end
end
