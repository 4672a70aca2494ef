# frozen_string_literal: true

module Nurv
  class CommandLine
    # A survey of the grader's fairness as a page: docs/fairness.md.
    class FairnessPage
      HEAD = <<~TEXT
        # How fair the grader is

        Made by `bin/nurv fairness`: logs of testers who do it right, each in another way (slower, in stages, done over,
        in another order of what has none), which must lose nothing; and logs with one mistake planted in them, at every
        place where a procedure's data says that it can be made, of which that mistake and no other must be named. On
        a healthy assembly and on one with each of a few moderate faults; for every way of every setting, some of them
        on a healthy one. Everything that is read is read at the bench that came of it.

      TEXT

      # @param trials [Array<Fairness::Trial>]
      # @param cheats [Array<Fairness::Cheats::Result>]
      # @param borders [Array<Fairness::Borders::Row>]
      def initialize(trials, cheats, borders)
        @figures = Fairness::Figures.new(trials)
        @cheats = cheats
        @borders = borders
      end

      # @return [String]
      def to_s = HEAD + summary + by_procedure + by_mistake + wrong + cheats + borders

      private

      def summary =
        "#{@figures.good.size} good logs, #{@figures.mistaken.size} mistaken ones: precision " \
          "#{format("%.3f", @figures.precision)}, recall #{format("%.3f", @figures.recall)}; " \
          "#{@figures.good.count(&:right?)} of the good ones lose nothing.\n\n"

      def by_procedure
        rows =
          @figures.by(&:procedure).map do |name, some|
            "| #{name.upcase} | #{some.good.size} | #{some.good.count(&:right?)} | #{some.mistaken.size} | " \
              "#{format("%.3f", some.precision)} | #{format("%.3f", some.recall)} |"
          end
        "| procedure | good logs | lose nothing | mistaken logs | precision | recall |\n|---|---|---|---|---|---|\n" \
          "#{rows.join("\n")}\n\n"
      end

      def by_mistake
        rows =
          Fairness::Figures.new(@figures.mistaken).by { |trial| trial.wanted.first }.sort.map do |mistake, some|
            "| `#{mistake}` | #{some.mistaken.size} | #{some.mistaken.count { |trial| trial.missed.empty? }} | " \
              "#{some.mistaken.count { |trial| trial.extra.any? }} |"
          end
        "| mistake | planted | named | with something else |\n|---|---|---|---|\n#{rows.join("\n")}\n\n"
      end

      def wrong
        return "Every log is marked as it should be.\n\n" if @figures.wrong.empty?

        "## Not marked as it should be\n\n#{@figures.wrong.map { |trial| "- #{trial}" }.join("\n")}\n\n"
      end

      def cheats
        rows =
          @cheats.map do |one|
            "| #{one.title} | #{one.grade.score} | #{one.grade.pass? ? "passes" : "fails"} | " \
              "#{one.grade.failed_outright.map { |id| "`#{id}`" }.join(" ")} |"
          end
        "## What cheats get\n\n| what is handed in | score | by the standard policy | fails outright for |\n" \
          "|---|---|---|---|\n#{rows.join("\n")}\n\n"
      end

      def borders
        rows =
          @borders.map do |row|
            "| #{row.title} | #{row.shown} | `#{row.written}` | #{row.verdict} | #{marks(row.got)} |"
          end
        "## At the edge\n\nCV1's confirmed value in R1, limit 5.0 psid, tolerance 0.2. A reading is brought to psid " \
          "and to a tenth, half up; then it is compared.\n\n| what | gauge showed | written | judged | marked |\n" \
          "|---|---|---|---|---|\n#{rows.join("\n")}\n"
      end

      def marks(mistakes) = mistakes.empty? ? "full marks" : mistakes.map { |id| "`#{id}`" }.join(" ")
    end
  end
end
