# frozen_string_literal: true

module Nurv
  module Shapes
    # What an instructor changed in a procedure.
    Overlay =
      Shape.define do
        optional(:label).value(:words?)
        # Which of an instructor's versions it is.
        optional(:version).value(whole?: 1..1_000_000)
        optional(:diagnosis_only).value(:yes_or_no?)
        optional(:limits).value(numbers_by_name?: 0..15)
        optional(:points).value(numbers_by_name?: 0..100)
        optional(:critical).value(:by_name?)
        # Setting => way; step => title, why, aid.
        optional(:settings).value(:names_by_name?)
        optional(:words).value(:by_name?)
        optional(:left_out).value(:names?)
        optional(:order).value(:names?)
        # Item => seconds before which it is not read.
        optional(:not_before_s).value(numbers_by_name?: 0..600)
        optional(:buffer_psid).value(within?: 0..15)
        optional(:own_steps).value(:array, max_size?: 20).each do
          hash do
            required(:id).value(:name?)
            required(:title).value(:words?)
            optional(:why).value(:note?)
            optional(:points).value(within?: 0..50)
            optional(:critical).value(:yes_or_no?)
            optional(:part).value(one_of?: %w[opening test closing])
            optional(:after).value(:name?)
            # What the bench itself shows of it; left out, the tester says that it was done.
            optional(:shown_by).value(one_of?: %w[caps_off caps_on nothing_stored])
          end
        end
      end
  end
end
