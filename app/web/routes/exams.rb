# frozen_string_literal: true

module Web
  module Routes
    # Exams: set up, changed while they are drafts, copied, opened.
    module Exams
      def self.registered(app)
        app.get("/classes/:id/exams/new") do
          course = course_of_mine
          policies = stores.policies.of(current_user)
          form =
            ExamForm.from(
              policies[params[:policy].to_s] || policies["standard"],
              stores.stations.of(current_user),
              zone
            )
          show_exam_form(course, form)
        end

        app.post("/classes/:id/exams") do
          course = course_of_mine
          form = ExamForm.new(params, stores.stations.of(current_user), zone)
          unless form.valid?
            status 422
            next show_exam_form(course, form)
          end
          exam = stores.exams.create(current_user, course, **exam_values(form))
          keep_zone(form)
          audit "set up an exam", "exam #{exam.id}", exam.title
          flash "#{exam.title} is kept as a draft."
          redirect "/exams/#{exam.id}"
        end

        app.get("/exams/:id") do
          exam = exam_of_mine
          attempts = tick(exam)
          course = course_of_exam(exam)
          page :"exams/show",
            title: exam.title,
            waiting: missing_grades(attempts),
            exam: exam,
            course: course,
            attempts: attempts,
            standings: stores.grades.standings(attempts),
            warnings: exam_warnings(exam),
            members: stores.classes.members(course)
        end

        drafts(app)
        opening(app)
      end

      def self.drafts(app)
        app.get("/exams/:id/edit") do
          exam = draft_of_mine
          show_exam_form(course_of_exam(exam), ExamForm.of(exam, stores.stations.of(current_user), zone), exam)
        end

        app.post("/exams/:id/edit") do
          exam = draft_of_mine
          form = ExamForm.new(params, stores.stations.of(current_user), zone)
          unless form.valid?
            status 422
            next show_exam_form(course_of_exam(exam), form, exam)
          end
          stores.exams.change_draft(exam, **exam_values(form))
          keep_zone(form)
          audit "changed an exam", "exam #{exam.id}", form[:title]
          flash "#{form[:title]} is kept as it is now."
          redirect "/exams/#{exam.id}"
        end

        # By one press: no two benches alike, and none like one that was practice.
        app.post("/exams/:id/vary") do
          exam = draft_of_mine
          stores.exams.vary(exam)
          audit "varied an exam", "exam #{exam.id}", exam.title
          flash "Every trainee now gets their own plate, serial, pressure and springs. What is wrong stays the same."
          redirect "/exams/#{exam.id}"
        end

        app.post("/exams/:id/copy") do
          exam = exam_of_mine
          copy = stores.exams.copy(exam, rand(1..999_999))
          audit "copied an exam", "exam #{copy.id}", exam.title
          flash "A copy, with variants of its own. Give it a title and a day."
          redirect "/exams/#{copy.id}/edit"
        end

        app.post("/exams/:id/delete") do
          exam = draft_of_mine
          stores.exams.delete_draft(exam)
          audit "deleted a draft", "exam #{exam.id}", exam.title
          flash "#{exam.title} is deleted."
          redirect "/classes/#{exam.class_id}"
        end
      end

      def self.opening(app)
        # What opening it means, before it is done.
        app.get("/exams/:id/open") do
          exam = draft_of_mine
          course = course_of_exam(exam)
          page :"exams/open",
            title: "Open #{exam.title}",
            exam: exam,
            course: course,
            warnings: exam_warnings(exam),
            members: stores.classes.members(course)
        end

        app.post("/exams/:id/open") do
          exam = exam_of_mine
          members = stores.classes.members(course_of_exam(exam))
          # The last question is asked on a page of its own.
          redirect "/exams/#{exam.id}/open" if exam.draft? && params[:sure] != "1"
          unless stores.exams.open(exam, members)
            flash "This exam is closed. Copy it to hold it again."
            redirect "/exams/#{exam.id}"
          end
          make_exam_ready(exam.id)
          audit exam.draft? ? "opened" : "let newcomers in", "exam #{exam.id}", exam.title
          flash(
            if exam.draft?
              "The exam is open for #{members.size} trainees."
            else
              "Everybody on the roster has benches now."
            end
          )
          redirect "/exams/#{exam.id}/room"
        end
      end
    end
  end
end
