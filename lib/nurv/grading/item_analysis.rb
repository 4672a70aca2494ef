# frozen_string_literal: true

module Nurv
  module Grading
    # What a class misses: per line of its grades and per fault that was there to be found.
    class ItemAnalysis
      Row = Struct.new(:id, :title, :section, :missed, :of, keyword_init: true) do
        # @return [Float] 0..1 of those who had it and missed it
        def share = missed / of.to_f
      end

      # @param graded [Array<Array(Array<Hash>, Array<String>)>] per attempt its lines (symbol keys) and the labels of
      #   its faults
      def initialize(graded)
        @graded = graded
      end

      # @return [Array<Row>] the most missed first
      def steps
        lines = @graded.flat_map(&:first).group_by { |line| "#{line[:section]}.#{line[:id]}" }
        rank(
          lines.map do |id, list|
            Row.new(
              id: id,
              title: list.first[:title],
              section: list.first[:section].to_sym,
              missed: list.count { |line| line[:earned] < line[:points] },
              of: list.size
            )
          end
        )
      end

      # @return [Array<Row>] faults whose diagnosis was missed
      def faults
        seen =
          @graded
            .flat_map do |lines, faults|
              faults.map { |fault| [fault, lines.find { |line| line[:id].to_s == "diagnosis" }] }
            end
            .select(&:last)
        rank(
          seen
            .group_by(&:first)
            .map do |fault, pairs|
              Row.new(
                id: fault,
                title: fault,
                section: :judgement,
                missed: pairs.count { |_, line| line[:earned] < line[:points] },
                of: pairs.size
              )
            end
        )
      end

      # @return [Array<Array(Symbol, Integer)>] mistakes by name, the most frequent first
      def mistakes =
        @graded
          .flat_map { |lines, _| lines.filter_map { |line| line[:mistake]&.to_sym }.uniq }
          .tally
          .sort_by { |id, count| [-count, id] }

      private

      def rank(rows) = rows.sort_by { |row| [-row.share, -row.missed, row.title] }
    end
  end
end
