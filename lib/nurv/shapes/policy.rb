# frozen_string_literal: true

module Nurv
  module Shapes
    # How an exam is run and marked.
    Policy =
      Shape.define do
        required(:id).value(:name?)
        required(:name).value(:words?)
        required(:weights).hash do
          required(:procedure).value(within?: 0..1000)
          required(:readings).value(within?: 0..1000)
          required(:judgement).value(within?: 0..1000)
          required(:records).value(within?: 0..1000)
        end
        required(:pass_mark).value(within?: 0..100)
        required(:tolerance_psid).value(within?: 0..15)
        required(:fail_outright).value(:names?)
        optional(:time_limit_min).maybe(within?: 1..1440)
        optional(:critical_fails).value(:yes_or_no?)
        optional(:hints).value(:yes_or_no?)
        optional(:skip_waiting).value(:yes_or_no?)
        # What gauges read in.
        optional(:unit).value(one_of?: %w[psi kpa])
        optional(:retest).value(one_of?: %w[none once open])
        optional(:procedures).value(:by_name?)
      end
  end
end
