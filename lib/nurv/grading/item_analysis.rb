# frozen_string_literal: true

module Nurv
  module Grading
    # What a class misses: per line of its grades and per fault that was there to be found.
    class ItemAnalysis
      Row = Struct.new(:id, :title, :section, :missed, :of, keyword_init: true) do
        # @return [Float] 0..1 of those who had it and missed it
        def share = missed / of.to_f
      end

      # lines [Array<Hash>] of a kept grade, symbol keys; procedure [Object] it was graded by, as whoever names the
      # lines knows it; faults [Array<String>] labels of what was there to be found
      Graded = Struct.new(:lines, :procedure, :faults, keyword_init: true)

      # @param graded [Array<Graded>]
      # @yieldparam line [Hash] one that stands for all of its kind
      # @yieldparam procedure [Object] as given
      # @yieldreturn [String] what the line is called
      def initialize(graded, &title)
        @graded = graded
        @title = title
      end

      # @return [Array<Row>] the most missed first
      def steps
        lines =
          @graded
            .flat_map { |graded| graded.lines.map { |line| [line, graded.procedure] } }
            .group_by { |line, _| "#{line[:section]}.#{line[:id]}" }
        rank(
          lines.map do |id, list|
            Row.new(
              id: id,
              title: @title.call(*list.first),
              section: list.first.first[:section].to_sym,
              missed: list.count { |line, _| line[:earned] < line[:points] },
              of: list.size
            )
          end
        )
      end

      # @return [Array<Row>] faults whose diagnosis was missed
      def faults
        seen =
          @graded
            .flat_map do |graded|
              diagnosis = graded.lines.find { |line| line[:id].to_s == "diagnosis" }
              graded.faults.map { |fault| [fault, diagnosis] }
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
          .flat_map { |graded| graded.lines.filter_map { |line| line[:mistake]&.to_sym }.uniq }
          .tally
          .sort_by { |id, count| [-count, id] }

      private

      def rank(rows) = rows.sort_by { |row| [-row.share, -row.missed, row.title] }
    end
  end
end
