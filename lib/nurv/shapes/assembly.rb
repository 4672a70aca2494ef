# frozen_string_literal: true

module Nurv
  module Shapes
    # A type of assembly: its waters as a network, its test cocks, the heights a gauge is held level with.
    Assembly =
      Shape.define do
        required(:id).value(:name?)
        required(:name).value(:words?)
        required(:short).value(:label?)
        # Hazards it is approved for, and whether it may stand where pressure comes back; all, if it does not say.
        optional(:suits).value(some_of?: %w[low high])
        optional(:back_pressure).value(:yes_or_no?)
        required(:nodes).array(:hash) do
          required(:id).value(:name?)
          required(:capacitance).value(within?: 0.001..1000)
          optional(:tolerance_scale).value(within?: 0.001..1000)
          optional(:pocket_ml).value(within?: 0..10_000)
          optional(:water_ml).value(within?: 1..100_000)
          optional(:free_surface).hash do
            required(:volume_ml).value(within?: 1..100_000)
            required(:bottom_in).value(within?: -100..100)
            required(:top_in).value(within?: -100..100)
          end
        end
        required(:edges).array(:hash) do
          required(:id).value(:name?)
          required(:kind).value(one_of?: %w[shutoff_valve check_valve relief_valve air_inlet])
          optional(:from).value(:name?)
          optional(:to).value(:name?)
          optional(:inlet).value(:name?)
          optional(:zone).value(:name?)
          optional(:body).value(:name?)
          optional(:softness_psid).value(within?: 0..15)
          optional(:dry_in).value(within?: -100..100)
          optional(:port_in).value(within?: -100..100)
          optional(:elevation_in).value(within?: -100..100)
        end
        required(:cross_capacitances).array(:hash) do
          required(:between).value(:names?, size?: 2)
          required(:capacitance).value(within?: 0..1000)
        end
        required(:test_cocks).array(:hash) do
          required(:id).value(:name?)
          required(:node).value(:name?)
          required(:elevation_in).value(within?: -100..100)
        end
        required(:levels).array(:hash) do
          required(:id).value(:name?)
          required(:label).value(:label?)
          required(:elevation_in).value(within?: -100..100)
        end
        optional(:standing).hash do
          required(:middle).value(within?: 0..820)
          required(:per_inch).value(within?: 5..100)
        end
        required(:usual).hash do
          required(:springs_psid).value(numbers_by_name?: 0.1..15)
          required(:openings_psid).value(numbers_by_name?: 0.1..15)
        end
        required(:components).value(:names?)
        required(:drawing).value(:by_name?)
      end
  end
end
