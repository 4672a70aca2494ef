# frozen_string_literal: true

module Nurv
  module Shapes
    # A test kit: chambers, valves, hoses, where its gauge is tapped, and where each is drawn.
    Kit =
      Shape.define do
        required(:id).value(:name?)
        required(:name).value(:label?)
        required(:nodes).array(:hash) do
          required(:id).value(:name?)
          required(:capacitance).value(within?: 0.001..1000)
          optional(:hose).value(:yes_or_no?)
          optional(:tolerance_scale).value(within?: 0.001..1000)
        end
        required(:valves).array(:hash) do
          required(:id).value(:name?)
          required(:label).value(:label?)
          required(:from).value(:name?)
          required(:to).value(:name?)
        end
        required(:hoses).array(:hash) do
          required(:id).value(:name?)
          required(:label).value(:label?)
          required(:name).value(:label?)
          required(:node).value(:name?)
          required(:loop_in).value(within?: -100..100)
          optional(:detachable).value(:yes_or_no?)
        end
        required(:gauge).hash do
          required(:high).value(:name?)
          required(:low).value(:name?)
        end
        optional(:open_ports).value(:names?)
        required(:drawing).hash do
          required(:ports).value(:by_name?)
          required(:valves).value(:by_name?)
          required(:lines).value(:array)
          required(:free_ends).value(:by_name?)
        end
      end
  end
end
