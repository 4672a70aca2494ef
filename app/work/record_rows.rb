# frozen_string_literal: true

require "csv"

module Work
  # Results as rows: for the spreadsheet, the summary and the analysis.
  class RecordRows
    HEAD = %w[
      trainee
      exam
      station
      assembly
      mode
      second_attempt
      state
      score
      computed_score
      result
      overridden
      mistakes
      handed_in_utc
      published_utc
      variant
      attempt
    ].freeze
    # A spreadsheet takes a cell that begins like this for a formula.
    FORMULA = /\A[=+\-@\t\r]/

    # @param attempts [Array<Store::Attempt>]
    # @param stores [Store::Cabinet]
    def initialize(attempts, stores)
      @attempts = attempts
      @exams = stores.exams
      @grades = stores.grades
      @standings = @grades.standings(attempts)
    end

    # @param predicted [Array<Array(String, Store::Drills::Predicted)>] who predicted the eight cases, and how it went
    def to_csv(predicted = [])
      titles = @exams.titles(@attempts.filter_map(&:exam_id))
      CSV.generate do |csv|
        csv << HEAD
        @attempts.each { |attempt| csv << plain_cells(row(attempt, titles)) }
        predicted.each { |name, found| csv << plain_cells(predicted_row(name, found)) }
      end
    end

    # @yield [Time] as the reader's zone has it
    def short
      @attempts.map do |attempt|
        standing = @standings[attempt.id]
        [
          attempt.trainee_name,
          attempt.station.title,
          attempt.status,
          standing&.score.to_s,
          result(standing).to_s,
          yield(attempt.submitted_at)
        ]
      end
    end

    def analysis
      kept = @grades.plain(@attempts)
      graded = @attempts.select { |attempt| kept.key?(attempt.id) }.map { |attempt| plain(attempt, kept[attempt.id]) }
      Nurv::Grading::ItemAnalysis.new(graded) { |line, by| title(line, by) }
    end

    private

    def plain_cells(cells) =
      cells.map { |cell| cell.is_a?(String) ? cell.sub(FORMULA) { |start| "'#{start}" } : cell }

    def predicted_row(name, found)
      known = {
        "trainee" => name,
        "station" => "How an RP protects: #{found.count} of #{Nurv::Teaching::Principles.cases.size} cases",
        "mode" => "principles",
        "score" => found.score,
        "handed_in_utc" => found.last_at.utc.iso8601
      }
      HEAD.map { |column| known[column] }
    end

    def plain(attempt, grade) =
      Nurv::Grading::ItemAnalysis::Graded.new(
        lines: grade[:lines],
        procedure: [attempt.catalog, grade[:procedure].to_sym],
        faults: attempt.variant.station.faults.map { |item| item.fault.label }
      )

    # @param by [Array(Nurv::Catalog, Symbol)] facts and the procedure in them
    def title(line, by)
      catalog, procedure = by
      bare = Nurv::Grading::Line.new(section: line[:section].to_sym, id: line[:id].to_sym)
      about = Nurv::Words::About.new(procedure: catalog.procedures.fetch(procedure))
      Nurv::Words::ToldLine.new(bare, catalog.words, about, catalog.findings).title
    end

    def result(standing) = standing && (standing.pass ? "pass" : "fail")

    def row(attempt, titles)
      standing = @standings[attempt.id]
      [
        attempt.trainee_name,
        titles[attempt.exam_id],
        attempt.station.title,
        attempt.station.assembly.short,
        attempt.mode,
        attempt.retest_of ? "yes" : "no",
        attempt.status,
        standing&.score,
        standing&.computed_score,
        result(standing),
        standing&.overridden,
        standing&.mistakes&.join(" "),
        attempt.submitted_at&.utc&.iso8601,
        attempt.published_at&.utc&.iso8601,
        attempt.seed,
        attempt.id
      ]
    end
  end
end
