# frozen_string_literal: true

module Pdf
  # One attempt: score, every line with its moment, what was overridden and why.
  class ScoreSheet < Sheet
    # @param sheet [Web::GradeSheet]
    # @param name [String] the trainee's
    # @param exam [Store::Exams::Exam, nil]
    def initialize(sheet, name:, exam:, date:)
      @sheet = sheet
      @name = name
      @exam = exam
      @date = date
    end

    def title = "Score sheet · #{@name}"

    private

    def grade = @sheet.grade

    def body
      heading("Score sheet", @name, "#{grade.score} of 100, #{grade.pass? ? "pass" : "fail"}")
      station = @sheet.attempt.station
      pairs(
        [
          ["Exam", @exam&.title || @sheet.attempt.mode.capitalize],
          ["Station", "#{station.public_name}, variant #{@sheet.attempt.seed}"],
          ["Procedure", grade.procedure.title],
          ["Handed in", @date],
          ["To pass", "#{format("%g", grade.policy.pass_mark)} of 100"],
          *failed,
          *computed,
          *comment
        ]
      )
      @sheet.sections.each { |name, lines, share| lines_of(name, lines, share) if lines.any? }
      overrides
      signatures
    end

    def failed =
      if grade.failed_outright.empty?
        []
      else
        [
          [
            "Fails outright",
            @sheet.failed_outright.join("; ")
          ]
        ]
      end

    def computed = @sheet.overrides.empty? ? [] : [["Computed score", @sheet.computed.score.to_s]]

    def comment = @sheet.attempt.comment.to_s.empty? ? [] : [["Comment", @sheet.attempt.comment]]

    def lines_of(name, lines, share)
      section("#{name}, #{(share * 100).round} %")
      rows =
        lines.map do |line|
          text =
            line.lost? ? "#{line.title}: #{line.mistake_name || "points lost"}. #{line.happened}" : line.title
          [line.at_s ? Nurv::Units.clock(line.at_s) : "", text, "#{format("%g", line.earned)} / #{line.points}"]
        end
      table(rows, widths: {0 => 38, 2 => 52})
    end

    def overrides
      return if @sheet.overrides.empty?

      section("Overridden by the instructor")
      table(
        @sheet.overrides.map do |key, item|
          [
            @sheet.title_of(key),
            "#{format("%g", item.earned)}: #{item.reason} (#{item.by})"
          ]
        end,
        widths: {
          0 => 200
        }
      )
    end

    def signatures
      @doc.move_down 24
      table([["Instructor", "", "Trainee", ""]], widths: {0 => 60, 2 => 60})
    end
  end
end
