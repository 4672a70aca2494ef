# frozen_string_literal: true

module Nurv
  module Hydraulics
    # LU of a small row-major matrix in place, without pivoting: ours are diagonally dominant. Which entries can ever
    # be other than zero is worked out once per network, and only those are touched.
    class LinearSolver
      # Flat positions that can be other than zero, fill-in included.
      attr_reader :cells

      # @param size [Integer]
      # @param pairs [Array<Array(Integer, Integer)>] nodes that an edge or a disc joins
      def initialize(size, pairs)
        @size = size
        filled = Array.new(size) { |row| Array.new(size) { |column| row == column } }
        pairs.each { |from, to| filled[from][to] = filled[to][from] = true }
        @below =
          Array.new(size) do |pivot|
            (pivot + 1...size).select { |row| filled[row][pivot] }.each { |row| spread(filled, pivot, row) }
          end
        @right = Array.new(size) { |pivot| (pivot + 1...size).select { |column| filled[pivot][column] } }
        @cells = (0...size * size).select { |cell| filled[cell / size][cell % size] }
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
          rows = @below[pivot]
          columns = @right[pivot]
          index = 0
          while index < rows.size
            row = rows[index] * size
            factor = matrix[row + pivot] * inverse
            if factor != 0.0
              matrix[row + pivot] = factor
              place = 0
              while place < columns.size
                column = columns[place]
                matrix[row + column] -= factor * matrix[base + column]
                place += 1
              end
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

      def spread(filled, pivot, row)
        (pivot + 1...@size).each { |column| filled[row][column] ||= filled[pivot][column] }
      end

      def forward(matrix, vector)
        pivot = 0
        while pivot < @size
          value = vector[pivot]
          if value != 0.0
            rows = @below[pivot]
            index = 0
            while index < rows.size
              row = rows[index]
              vector[row] -= matrix[row * @size + pivot] * value
              index += 1
            end
          end
          pivot += 1
        end
      end

      def backward(matrix, vector)
        pivot = @size - 1
        while pivot >= 0
          base = pivot * @size
          sum = vector[pivot]
          columns = @right[pivot]
          index = 0
          while index < columns.size
            column = columns[index]
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
