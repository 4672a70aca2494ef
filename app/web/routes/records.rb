# frozen_string_literal: true

require "csv"

module Web
  module Routes
    # Records: gradebook, item analysis, score sheets, reports, logs, and a class as a file.
    module Records
      def self.registered(app)
        app.get("/classes/:id/gradebook") do
          room = room_of_mine
          book = gradebook(room)
          attempts = book.attempts
          waiting = Store::Grades.new.catch_up(attempts, seconds: 0.5)
          page :"records/gradebook", title: "Gradebook · #{room.name}", room: room, book: book, attempts: attempts, waiting: waiting, standings: Store::Grades.new.standings(attempts)
        end

        app.get("/classes/:id/gradebook.csv") do
          room = room_of_mine
          attempts = gradebook(room).everything
          Store::Grades.new.catch_up(attempts, seconds: 600)
          attachment "gradebook-#{room.id}.csv"
          content_type "text/csv"
          RecordRows.new(attempts).to_csv
        end

        app.get("/classes/:id/items") do
          room = room_of_mine
          attempts = Store::Attempts.new.of_class(room).select(&:over?).reject { |attempt| attempt.mode == "practice" && params[:practice] != "1" }
          Store::Grades.new.catch_up(attempts, seconds: 3)
          page :"records/items", title: "Item analysis · #{room.name}", room: room, analysis: RecordRows.new(attempts).analysis, count: attempts.size
        end

        app.get("/classes/:id/summary.pdf") do
          room = room_of_mine
          attempts = Store::Attempts.new.of_class(room).reject { |attempt| attempt.mode == "practice" }
          Store::Grades.new.catch_up(attempts, seconds: 600)
          rows = RecordRows.new(attempts)
          content_type "application/pdf"
          Pdf::ClassSummary.new(room, rows.short { |time| when_words(time) }, rows.analysis.steps, day_words(Time.now)).render
        end

        one_attempt(app)
        whole_class(app)
      end

      def self.one_attempt(app)
        app.get("/attempts/:id/score-sheet.pdf") do
          attempt = attempt_to_read
          content_type "application/pdf"
          Pdf::ScoreSheet.new(GradeSheet.of(attempt), name: Store::Users.new.find(attempt.trainee_id).name, exam: exam_of(attempt), date: when_words(attempt.submitted_at)).render
        end

        app.get("/attempts/:id/report") do
          attempt = attempt_to_read
          page :"records/report", title: "Field report", attempt: attempt, view: ReportView.new(GradeSheet.of(attempt), Store::Users.new.find(attempt.trainee_id).name)
        end

        app.get("/attempts/:id/report.pdf") do
          attempt = attempt_to_read
          content_type "application/pdf"
          Pdf::FieldReport.new(ReportView.new(GradeSheet.of(attempt), Store::Users.new.find(attempt.trainee_id).name)).render
        end

        app.get("/attempts/:id/log.jsonl") do
          attempt = attempt_taught
          headers "content-disposition" => "attachment; filename=\"attempt-#{attempt.id}.jsonl\"", "content-type" => "application/x-ndjson"
          Store::Attempts.new.log(attempt).to_jsonl
        end
      end

      def self.whole_class(app)
        app.get("/classes/:id/export") do
          room = room_of_mine
          audit "exported a class", "class #{room.id}", room.name
          attachment "#{room.name.downcase.gsub(/[^a-z0-9]+/, "-")}.tar.gz"
          content_type "application/gzip"
          Store::Archive.new.pack(room)
        end

        app.post("/classes/import") do
          need_instructor!
          file = params["archive"]
          raise Store::Archive::BadArchive, "Choose a file first." unless file.is_a?(Hash)

          room = Store::Archive.new.unpack(current_user, file["tempfile"].binmode.read)
          audit "imported a class", "class #{room.id}", room.name
          flash "#{room.name} is imported. Trainees choose a new PIN with its new code."
          redirect "/classes/#{room.id}"
        rescue Store::Archive::BadArchive => error
          status 422
          page :"classes/index", title: "Classes", rooms: Store::Classes.new.of(current_user), form: ClassForm.new, import_error: error.message
        end
      end
    end
  end
end
