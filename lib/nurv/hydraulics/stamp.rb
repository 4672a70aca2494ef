# frozen_string_literal: true

module Nurv
  module Hydraulics
    # Writes the slopes of an edge into the matrix of a step, which holds the Jacobian with its sign turned.
    module Stamp
      module_function

      # @param matrix [Array<Float>] row-major, size × size, mL/s per psi
      # @param from [Integer] node that loses the water
      # @param to [Integer] node that gains it
      # @param slope [Float] mL/s per psi of drop, >= 0
      def pair(matrix, size, from, to, slope)
        row = from * size
        matrix[row + from] += slope
        matrix[row + to] -= slope
        row = to * size
        matrix[row + to] += slope
        matrix[row + from] -= slope
      end
    end
  end
end
