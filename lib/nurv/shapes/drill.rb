# frozen_string_literal: true

module Nurv
  module Shapes
    # A drill: one skill, and the ways in which it is drilled, each by one procedure.
    Drill =
      Shape.define do
        required(:id).value(:name?)
        required(:label).value(:words?)
        required(:task).value(:words?)
        required(:why).value(:words?)
        required(:seconds).value(within?: 10..600)
        # What the gauge is; as it is drawn, if left out.
        optional(:face).value(one_of?: %w[analogue digital])
        # What is to be found by looking: one of these, drawn.
        optional(:findings).value(:names?)
        required(:ways).value(:array, min_size?: 1).each do
          hash do
            required(:procedure).value(:name?)
            # The step that the trainee's own hands begin with; `report` where only paper is left.
            required(:from).value(:name?)
            # What is marked: lines of steps, of readings, of judgements, and of what was found.
            optional(:steps).value(:names?)
            optional(:readings).value(:names?)
            optional(:judgements).value(:names?)
            optional(:found).value(:yes_or_no?)
            # What is wrong: one of these, drawn; nothing, if left out.
            optional(:faults).value(:names?)
          end
        end
      end
  end
end
