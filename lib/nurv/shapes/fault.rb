# frozen_string_literal: true

module Nurv
  module Shapes
    # A kind of fault: of which part, and what it sets on which edge of each assembly, by severity.
    Fault =
      Shape.define do
        required(:id).value(:name?)
        required(:component).value(:name?)
        required(:reason).value(:name?)
        required(:label).value(:words?)
        required(:sign).value(:words?)
        # What shows at an assembly where it is something else.
        optional(:signs).value(:by_name?)
        required(:mended_by).value(:names?)
        optional(:sets).value(:by_name?)
        optional(:demand).value(within?: 0..1)
        optional(:back_pressure_psi).value(within?: 0..200)
      end
  end
end
