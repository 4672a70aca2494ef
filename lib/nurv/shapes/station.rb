# frozen_string_literal: true

module Nurv
  module Shapes
    # A station file. Bounds are what a bench can be worked at: psi, psid, inches.
    Station =
      Shape.define do
        required(:id).value(:name?)
        required(:title).value(:words?)
        required(:assembly).value(:name?)
        required(:site).value(:name?)
        required(:plate).hash do
          required(:make).value(:label?)
          required(:model).value(:label?)
          required(:size).value(:label?)
          required(:serial).value(:label?)
          required(:type).value(:label?)
        end
        required(:line).hash do
          required(:pressure_psi).value(drawn?: 20..150)
          optional(:swing_psi).maybe(drawn?: 0..10)
          optional(:demand).maybe(drawn?: 0..1)
          optional(:back_pressure_psi).maybe(drawn?: 0..200)
          optional(:shutoff_valve_1).value(one_of?: %w[open closed])
          optional(:shutoff_valve_2).value(one_of?: %w[open closed])
        end
        required(:kit).hash do
          required(:id).value(:name?)
          optional(:face).maybe(one_of?: %w[analogue digital])
          optional(:serial).maybe(:plain?)
          optional(:checked_on).maybe(:date?)
          optional(:zero_error_psid).maybe(drawn?: -3..3)
          optional(:strainer_at_kit).maybe(:names?)
          optional(:height_in).maybe(drawn?: -60..120)
          optional(:cracked_open).maybe(numbers_by_name?: 0..1)
          optional(:power).maybe(one_of?: %w[running standby switched_off])
          optional(:sleeps_after_s).maybe(within?: 300..3600)
          optional(:in_the_dark).maybe(:yes_or_no?)
          optional(:stored).maybe(numbers_by_name?: -20..20)
        end
        required(:procedures).value(:names?, min_size?: 1)
        optional(:size_in).maybe(within?: 0.5..12)
        optional(:springs_psid).maybe(drawn_by_name?: 0.1..15)
        optional(:openings_psid).maybe(drawn_by_name?: 0.1..15)
        optional(:faults).maybe(:array) { each { hash(StationFault.schema) } }
        optional(:findings).maybe(:names?)
        optional(:debris).maybe(:names?)
        optional(:weeping).maybe(:names?)
        optional(:test_cocks).maybe(:hash) do
          optional(:capped).maybe(:yes_or_no?)
          optional(:adapters).maybe(:yes_or_no?)
        end
        optional(:note).maybe(:note?)
        optional(:date).maybe(:date?)
        optional(:meter).maybe(:hash) do
          required(:number).value(:plain?)
          required(:reading).value(:plain?)
        end
        optional(:direction).maybe(one_of?: %w[to_the_right to_the_left either upwards downwards])
        optional(:tags).maybe(one_of?: %w[hung to_hang either])
        optional(:plate_state).maybe(one_of?: %w[clean corroded])
        optional(:varies).maybe(:yes_or_no?)
        optional(:after_failure).maybe(one_of?: %w[report repair_and_retest])
      end
  end
end
