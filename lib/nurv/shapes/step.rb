# frozen_string_literal: true

module Nurv
  module Shapes
    # A step of a procedure: how it is recognised, what must be true, what it is worth, and how an expert does it.
    # Conditions, requirements and acts are mappings that the grader and the expert look up (Grading::ProcedureCheck).
    Step =
      Shape.define do
        required(:id).value(:name?)
        required(:title).value(:words?)
        required(:points).value(within?: 0..100)
        required(:why).value(:words?)
        # What helps to remember it.
        optional(:aid).value(:note?)
        required(:missed).value(:name?)
        required(:matched).value(:list_by_name?, min_size?: 1)
        required(:do).value(:list_by_name?)
        optional(:critical).value(:yes_or_no?)
        optional(:optional).value(:yes_or_no?)
        optional(:part).value(one_of?: %w[opening test closing])
        optional(:mistakes).value(:lines?)
        optional(:after).value(:names?)
        # What it is called where it is missed in another way: remark => mistake.
        optional(:named_by).value(:names_by_name?)
        # Mistakes made before that keep it from being done as it should: it is not named then.
        optional(:excused_by).value(:names?)
        # Steps without which it cannot be done: left out with them, it is not named.
        optional(:follows_from).value(:names?)
        optional(:only).value(:names?)
        optional(:skip).value(:names?)
        optional(:event).value(:name?)
        optional(:before).value(:list_by_name?)
        # What shows that it was begun, where it was not done as a whole.
        optional(:tried).value(:list_by_name?)
        optional(:situation).value(:list_by_name?)
        optional(:at_end).value(:list_by_name?)
        optional(:must).value(:list_by_name?)
      end
  end
end
