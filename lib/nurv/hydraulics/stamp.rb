# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Writes the slopes of an edge into a row-major Jacobian.
    module Stamp
      module_function

      def pair(jacobian, size, from, to, slope)
        row = from * size
        jacobian[row + from] -= slope
        jacobian[row + to] += slope
        row = to * size
        jacobian[row + to] -= slope
        jacobian[row + from] += slope
      end
    end
  end
end
