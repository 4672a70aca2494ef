# frozen_string_literal: true

module Work
  # A class as a file: gradebook, summary or archive. What is not graded yet is graded first.
  class Exporting
    NAMES = {
      "gradebook" => %w[gradebook csv text/csv],
      "summary" => %w[summary pdf application/pdf],
      "archive" => %w[class tar.gz application/gzip]
    }.freeze

    # @param data [Hash] of the job
    # @param stores [Store::Cabinet]
    def initialize(data, stores)
      @stores = stores
      @what = data.fetch(:what)
      @class_id = data.fetch(:class_id)
      @local_time = LocalTime.new(data.fetch(:zone))
      @filter = data.fetch(:filter, {}).transform_keys(&:to_sym)
    end

    def call(job, &progress)
      course = @stores.classes.find(@stores.users.find(job.owner_id), @class_id)
      raise Nurv::Error, "That class is no longer there." unless course

      name, ending, type = NAMES.fetch(@what)
      bytes = public_send(@what, course, &progress)
      {file: Files.keep(bytes, ending), name: "#{name}-#{course.id}.#{ending}", type: type}
    end

    def gradebook(course, &)
      book = @stores.gradebook(course, **@filter)
      attempts = book.everything
      graded(attempts, &)
      RecordRows.new(attempts, @stores).to_csv(book.predicted)
    end

    def summary(course, &)
      attempts = @stores.attempts.of_class(course).reject { |attempt| attempt.practice? || attempt.left? }
      graded(attempts, &)
      rows = RecordRows.new(attempts, @stores)
      short = rows.short { |time| @local_time.moment(time) }
      Pdf::ClassSummary.new(course, short, rows.analysis.steps, @local_time.day(Clock.now)).render
    end

    def archive(course) = @stores.archive.pack(course)

    private

    def graded(attempts)
      grades = @stores.grades
      missing = grades.missing(attempts)
      missing.each_with_index do |attempt, index|
        yield(index, missing.size)
        grades.try(attempt)
      end
    end
  end
end
