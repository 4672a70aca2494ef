# frozen_string_literal: true

module Nurv
  module Hydraulics
    # LU of a small dense row-major matrix in place, without pivoting: ours are diagonally dominant. Zeros are skipped,
    # which on a tree-like network saves most of the work.
    module LinearSolver
      module_function

      def factor!(matrix, size)
        pivot = 0
        while pivot < size
          pivot_row = pivot * size
          inverse = 1.0 / matrix[pivot_row + pivot]
          matrix[pivot_row + pivot] = inverse
          row = pivot + 1
          while row < size
            base = row * size
            below = matrix[base + pivot]
            if below != 0.0
              factor = below * inverse
              matrix[base + pivot] = factor
              column = pivot + 1
              while column < size
                above = matrix[pivot_row + column]
                matrix[base + column] -= factor * above if above != 0.0
                column += 1
              end
            end
            row += 1
          end
          pivot += 1
        end
      end

      # @param matrix [Array<Float>] as left by factor!
      # @param vector [Array<Float>] right-hand side; overwritten with the solution
      def solve!(matrix, vector, size)
        row = 1
        while row < size
          base = row * size
          sum = vector[row]
          column = 0
          while column < row
            factor = matrix[base + column]
            sum -= factor * vector[column] if factor != 0.0
            column += 1
          end
          vector[row] = sum
          row += 1
        end
        row = size - 1
        while row >= 0
          base = row * size
          sum = vector[row]
          column = row + 1
          while column < size
            factor = matrix[base + column]
            sum -= factor * vector[column] if factor != 0.0
            column += 1
          end
          vector[row] = sum * matrix[base + row]
          row -= 1
        end
      end
    end
  end
end
