# frozen_string_literal: true

module Nurv
  class CommandLine
    # A grade as plain text, one line each, with the moment.
    class GradeText
      # @param told [Words::ToldGrade]
      def initialize(told)
        @told = told
        @grade = told.grade
      end

      # @return [String] several lines, with a line break at the end
      def to_s
        head = format("%s: %.1f of 100, %s\n", @grade.procedure.title, @grade.score, @grade.pass? ? "pass" : "fail")
        head + @grade.policy.weights.keys.map { |section| section_text(section) }.join
      end

      private

      def section_text(section)
        lines = @told.section(section).map do |line|
          moment = line.at_s ? Units.clock(line.at_s) : "     "
          mark = line.lost? ? "#{line.mistake}: #{line.happened}" : "ok"
          format("  %6s  %4g/%-3g %-52s %s\n", moment, line.earned, line.points, line.title, mark)
        end
        "#{section} #{(@grade.share(section) * 100).round} %\n#{lines.join}"
      end
    end
  end
end
