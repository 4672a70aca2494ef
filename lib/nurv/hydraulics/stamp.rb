# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Writes the slopes of an edge into a row-major Jacobian.
    module Stamp
      module_function

      # @param jacobian [Array<Float>] row-major, size × size, mL/s per psi
      # @param from [Integer] node that loses the water
      # @param to [Integer] node that gains it
      # @param slope [Float] mL/s per psi of drop, >= 0
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
