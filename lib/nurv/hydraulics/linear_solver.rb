# frozen_string_literal: true

module Nurv
  module Hydraulics
    # LU of a small row-major matrix in place, without pivoting: ours are diagonally dominant. Which entries can ever
    # be other than zero is worked out once per network, and only those are touched.
    class LinearSolver
      # @param size [Integer]
      # @param pairs [Array<Array(Integer, Integer)>] nodes that an edge or a disc joins
      def initialize(size, pairs)
        @size = size
        # A row's columns as the bits of a number.
        rows = Array.new(size, 0)
        pairs.each do |from, to|
          rows[from] |= 1 << to
          rows[to] |= 1 << from
        end
        # Per pivot the columns right of it in its row, which are the rows below it in its column.
        @beyond = Array.new(size) { |pivot| take_out(rows, pivot) }
      end

      # LU in place, without pivoting: every diagonal holds a volume's capacitance and dominates its row.
      #
      # @param matrix [Array<Float>] row-major, size × size; left holding both factors, diagonals inverted
      def factor!(matrix)
        size = @size
        pivot = 0
        while pivot < size
          base = pivot * size
          inverse = 1.0 / matrix[base + pivot]
          matrix[base + pivot] = inverse
          beyond = @beyond[pivot]
          index = 0
          while index < beyond.size
            row = beyond[index] * size
            matrix[row + pivot] = factor = matrix[row + pivot] * inverse
            place = 0
            while place < beyond.size
              column = beyond[place]
              matrix[row + column] -= factor * matrix[base + column]
              place += 1
            end
            index += 1
          end
          pivot += 1
        end
      end

      # @param matrix [Array<Float>] as left by factor!
      # @param vector [Array<Float>] right-hand side; overwritten with the solution
      def solve!(matrix, vector)
        forward(matrix, vector)
        backward(matrix, vector)
      end

      private

      # Taking a pivot from the rows below it leaves what stands right of it there as well.
      def take_out(rows, pivot)
        right = rows[pivot] >> (pivot + 1) << (pivot + 1)
        beyond = []
        node = pivot + 1
        while node < @size
          if right[node] == 1
            beyond << node
            rows[node] |= right
          end
          node += 1
        end
        beyond
      end

      def forward(matrix, vector)
        pivot = 0
        while pivot < @size
          value = vector[pivot]
          beyond = @beyond[pivot]
          index = 0
          while index < beyond.size
            row = beyond[index]
            vector[row] -= matrix[row * @size + pivot] * value
            index += 1
          end
          pivot += 1
        end
      end

      def backward(matrix, vector)
        pivot = @size - 1
        while pivot >= 0
          base = pivot * @size
          sum = vector[pivot]
          beyond = @beyond[pivot]
          index = 0
          while index < beyond.size
            column = beyond[index]
            sum -= matrix[base + column] * vector[column]
            index += 1
          end
          vector[pivot] = sum * matrix[base + pivot]
          pivot -= 1
        end
      end
    end
  end
end
