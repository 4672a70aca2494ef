# frozen_string_literal: true

module Pdf
  # A class on paper: everybody's results, and what the class missed most.
  class ClassSummary < Sheet
    # @param rows [Array<Array>] trainee, exam or station, state, score, result, handed in
    # @param items [Array<Nurv::Grading::ItemAnalysis::Row>]
    def initialize(course, rows, items, date)
      @course = course
      @rows = rows
      @items = items
      @date = date
    end

    def title = "Class summary · #{@course.name}"

    private

    def body
      heading("Class summary", @course.name, "#{@rows.size} results, #{@date}")
      section("Results")
      table(
        [["Trainee", "Station", "State", "Score", "Result", "Handed in"], *@rows],
        header: true,
        widths: {
          3 => 42,
          4 => 44
        }
      )
      section("Missed most")
      missed = @items.select { |item| item.missed.positive? }.first(15)
      if missed.empty?
        note("Nothing was missed.")
      else
        table(
          [
            %w[What Missed Of Share],
            *missed.map { |item| [item.title, item.missed.to_s, item.of.to_s, "#{(item.share * 100).round} %"] }
          ],
          header: true,
          widths: {
            1 => 50,
            2 => 40,
            3 => 45
          }
        )
      end
    end
  end
end
