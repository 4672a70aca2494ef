# frozen_string_literal: true

module Web
  module Routes
    # Records: gradebook, item analysis, score sheets, reports, logs, and a class as a file.
    module Records
      def self.registered(app)
        app.get("/classes/:id/gradebook") do
          course = course_of_mine
          book = gradebook(course)
          attempts = book.attempts
          page :"records/gradebook",
            title: "Gradebook · #{course.name}",
            course: course,
            book: book,
            attempts: attempts,
            waiting: missing_grades(attempts),
            standings: stores.grades.standings(attempts)
        end

        app.get("/classes/:id/items") do
          course = course_of_mine
          attempts =
            stores.attempts
              .of_class(course)
              .select(&:over?)
              .reject { |attempt| attempt.practice? && params[:practice] != "1" }
          page :"records/items",
            title: "Item analysis · #{course.name}",
            course: course,
            waiting: missing_grades(attempts),
            analysis: ::Work::RecordRows.new(attempts, stores).analysis,
            count: attempts.size
        end

        # Gradebook, summary or the whole class as a file; what is not graded yet is graded for it.
        app.post("/classes/:id/files") do
          course = course_of_mine
          halt 404 unless ::Work::Exporting::NAMES.key?(params[:what])
          audit "exported", "class #{course.id}", "#{params[:what]} of #{course.name}"
          set_to_work "export",
            what: params[:what],
            class_id: course.id,
            zone: current_user.time_zone,
            filter: {
              query: params[:q].to_s,
              state: params[:state].to_s,
              practice: params[:practice] == "1",
              cases: params[:cases] == "1"
            }
        end

        one_attempt(app)
        whole_class(app)
      end

      def self.one_attempt(app)
        app.get("/attempts/:id/score-sheet.pdf") do
          attempt = attempt_to_read
          content_type "application/pdf"
          Pdf::ScoreSheet.new(
            GradeSheet.of(attempt, stores),
            name: stores.users.find(attempt.trainee_id).name,
            exam: exam_of(attempt),
            date: when_words(attempt.submitted_at)
          ).render
        end

        app.get("/attempts/:id/report") do
          attempt = attempt_to_read
          page :"records/report",
            title: "Field report",
            attempt: attempt,
            view: ReportView.new(GradeSheet.of(attempt, stores), stores.users.find(attempt.trainee_id).name)
        end

        app.get("/attempts/:id/report.pdf") do
          attempt = attempt_to_read
          content_type "application/pdf"
          Pdf::FieldReport.new(
            ReportView.new(GradeSheet.of(attempt, stores), stores.users.find(attempt.trainee_id).name)
          ).render
        end

        app.get("/attempts/:id/log.jsonl") do
          attempt = attempt_taught
          headers "content-disposition" => "attachment; filename=\"attempt-#{attempt.id}.jsonl\"",
            "content-type" => "application/x-ndjson"
          stores.attempts.log(attempt).to_jsonl
        end
      end

      def self.whole_class(app)
        app.post("/classes/import") do
          need_instructor!
          bytes = Form.upload(params["archive"])
          if bytes.empty?
            status 422
            next(
              page(
                :"classes/index",
                title: "Classes",
                courses: stores.classes.of(current_user),
                form: ClassForm.new,
                import_error: "Choose a file first."
              )
            )
          end
          set_to_work "import", file: ::Work::Files.keep(bytes, "tar.gz")
        end
      end
    end
  end
end
