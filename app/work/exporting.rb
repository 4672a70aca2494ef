# frozen_string_literal: true

module Work
  # A class as a file: gradebook, summary or archive. What is not graded yet is graded first.
  class Exporting
    NAMES = {
      "gradebook" => %w[gradebook csv text/csv],
      "summary" => %w[summary pdf application/pdf],
      "archive" => %w[class tar.gz application/gzip]
    }.freeze

    def initialize(data)
      @what = data.fetch(:what)
      @class_id = data.fetch(:class_id)
      @local_time = LocalTime.new(data.fetch(:zone))
      @filter = data.fetch(:filter, {}).transform_keys(&:to_sym)
    end

    def call(job, &progress)
      room = Store::Classes.new.find(Store::Users.new.find(job.owner_id), @class_id)
      raise Nurv::Error, "That class is no longer there." unless room

      name, ending, type = NAMES.fetch(@what)
      bytes = public_send(@what, room, &progress)
      {file: Files.keep(bytes, ending), name: "#{name}-#{room.id}.#{ending}", type: type}
    end

    def gradebook(room, &)
      attempts = Store::Gradebook.new(room, **@filter).everything
      graded(attempts, &)
      RecordRows.new(attempts).to_csv
    end

    def summary(room, &)
      attempts = Store::Attempts.new.of_class(room).reject { |attempt| attempt.practice? || attempt.status == "left" }
      graded(attempts, &)
      rows = RecordRows.new(attempts)
      short = rows.short { |time| @local_time.moment(time) }
      Pdf::ClassSummary.new(room, short, rows.analysis.steps, @local_time.day(Clock.now)).render
    end

    def archive(room) = Store::Archive.new.pack(room)

    private

    def graded(attempts)
      grades = Store::Grades.new
      missing = grades.missing(attempts)
      missing.each_with_index do |attempt, index|
        yield(index, missing.size)
        grades.try(attempt)
      end
    end
  end
end
