# frozen_string_literal: true

module Nurv
  module Teaching
    # How somebody's skills stand: what each drill is about, seen in drills, practice and exams alike.
    class Skills
      # Of each skill so many of the newest tries count.
      LAST = 3
      # Less than that is weak, more is sure, of 100.
      WEAK = 70.0
      SURE = 95.0
      # One try of a skill: skill [Symbol]; score [Float] 0..100; at [Time]
      Seen = Struct.new(:skill, :score, :at, keyword_init: true)
      # How a skill stands: score [Float] mean of the last tries; times [Integer]; last_at [Time]
      Standing =
        Struct.new(:score, :times, :last_at, keyword_init: true) do
          # @return [Symbol] :weak, :coming or :sure
          def word = if score < WEAK
                       :weak
                     else
                       ((score < SURE) ? :coming : :sure)
                     end
        end

      # What a grade shows of skills: a whole test is many drills at once.
      #
      # @param drills [Enumerable<Drill>]
      # @param grade [Grading::Grade]
      # @param at [Time]
      # @return [Array<Seen>]
      def self.of_grade(drills, grade, at)
        drills.filter_map do |drill|
          lines = drill.ways_by([grade.procedure.id]).flat_map { |way| drill.lines(way, grade) }.uniq
          Seen.new(skill: drill.id, score: drill.score(lines), at: at) if lines.sum(&:points).positive?
        end
      end

      # @param seen [Array<Seen>]
      def initialize(seen)
        @by_skill = seen.group_by(&:skill).transform_values { |tries| tries.sort_by(&:at).reverse }
      end

      # @param skill [Symbol]
      # @return [Standing, nil] nil of one that was never tried
      def standing(skill)
        tries = @by_skill[skill] or return
        last = tries.first(LAST)
        Standing.new(score: (last.sum(&:score) / last.size).round(1), times: tries.size, last_at: last.first.at)
      end

      # What to practise next: what was never tried, then what is weakest, then what has not been done for longest.
      #
      # @param skills [Array<Symbol>] that can be practised
      # @return [Array<Symbol>] all of them, the first first
      def in_need(skills)
        skills.sort_by.with_index do |skill, index|
          standing = standing(skill)
          standing ? [standing.score, standing.last_at.to_f, index] : [-1.0, 0.0, index]
        end
      end
    end
  end
end
