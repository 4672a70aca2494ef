# frozen_string_literal: true

module Nurv
  module Shapes
    # What a fault sets on one kind of assembly: the edge, and each setting by severity.
    FaultSet =
      Shape.define do
        required(:edge).value(:name?)
        optional(:leak_k).value(numbers_by_name?: 0..100)
        optional(:spring_psid).value(numbers_by_name?: 0..15)
        optional(:opening_psid).value(numbers_by_name?: 0..15)
        optional(:opening_psi).value(numbers_by_name?: 0..15)
        optional(:area).value(numbers_by_name?: 0..1)
        optional(:passage).value(numbers_by_name?: 0..1)
        optional(:stuck).value(:by_name?)
      end
  end
end
