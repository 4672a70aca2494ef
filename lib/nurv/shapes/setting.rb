# frozen_string_literal: true

module Nurv
  module Shapes
    # A point on which adopted procedures differ, with the ways there are, the usual one first. What a way changes in
    # the data of the procedure: keys of the whole (`set`), of steps and items; requirements left out and added;
    # steps moved before others and left out.
    Setting =
      Shape.define do
        required(:id).value(:name?)
        required(:label).value(:words?)
        required(:choices).value(:array, min_size?: 2).each do
          hash do
            required(:id).value(:name?)
            required(:label).value(:words?)
            optional(:set).value(:by_name?)
            optional(:steps).value(:by_name?)
            optional(:items).value(:by_name?)
            optional(:must_drop).value(:by_name?)
            optional(:must_add).value(:by_name?)
            optional(:move).value(:list_by_name?)
            # Things that are not used, and what is named in the place of others.
            optional(:dropped).value(:names?)
            optional(:replaced).value(:by_name?)
            optional(:leave_out).value(:names?)
            optional(:leave_out_items).value(:names?)
          end
        end
      end
  end
end
