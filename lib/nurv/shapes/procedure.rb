# frozen_string_literal: true

module Nurv
  module Shapes
    # A way of testing an assembly, with every step written out.
    Procedure =
      Shape.define do
        required(:id).value(:name?)
        required(:label).value(:words?)
        required(:assembly).value(:name?)
        required(:kits).value(:names?, min_size?: 1)
        required(:summary).value(:words?)
        required(:bleed_air_share).value(within?: 0..1)
        required(:steady).hash do
          required(:over_s).value(within?: 1..600)
          required(:within_psid).value(within?: 0..5)
        end
        required(:items).value(:array, min_size?: 1) { each { hash(Item.schema) } }
        required(:steps).value(:array, min_size?: 1) { each { hash(Step.schema) } }
        required(:conclusions).array(:hash) do
          required(:says).value(:words?)
          optional(:if).value(:names?)
          optional(:unless).value(:names?)
          optional(:without).value(:name?)
          optional(:below).value(numbers_by_name?: 0..15)
          optional(:at_least).value(numbers_by_name?: 0..15)
          optional(:buffer_below).value(within?: 0..15)
        end
        optional(:buffer).hash do
          required(:of).value(:names?, min_size?: 1)
          required(:minus).value(:name?)
          required(:warn_below_psid).value(within?: 0..15)
        end
        # Of before there were settings: said nowhere any more, and read all the same.
        optional(:schools).value(:lines?)
        optional(:settings).value(:array) { each { hash(Setting.schema) } }
        optional(:apparent_serves).value(:yes_or_no?)
        optional(:asks_line_pressure).value(:yes_or_no?)
        optional(:asks_shutoffs).value(:yes_or_no?)
        optional(:asks_particulars).value(:yes_or_no?)
        optional(:leaking_shutoff).value(one_of?: %w[fails not_completed either])
        optional(:diagnosis_only).value(:yes_or_no?)
      end
  end
end
