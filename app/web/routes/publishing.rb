# frozen_string_literal: true

module Web
  module Routes
    # Results given to trainees, and taken back for a while.
    module Publishing
      def self.registered(app)
        app.get("/exams/:id/publish") do
          exam = exam_of_mine
          attempts = stores.attempts.of_exam(exam).select(&:submitted?)
          page :"review/publish",
            title: "Publish #{exam.title}",
            exam: exam,
            waiting: missing_grades(attempts),
            publishing: Web::Publishing.new(attempts, stores.grades.standings(attempts)),
            back: stores.attempts.to_take_back(exam)
        end

        # Those that are graded; what still is being graded waits.
        app.post("/exams/:id/publish") do
          exam = exam_of_mine
          attempts = stores.attempts.of_exam(exam).select(&:submitted?)
          waiting = want_grades(attempts)
          if waiting.any?
            flash "Nothing is published yet: #{waiting.size} are still being graded."
            redirect "/exams/#{exam.id}/publish"
          end
          count = stores.attempts.publish_all(exam, attempts.map(&:id))
          audit "published all", "exam #{exam.id}", "#{count} results"
          flash "#{count} results are published. For ten minutes they can be taken back here."
          redirect "/exams/#{exam.id}/publish"
        end

        app.post("/exams/:id/take-back") do
          exam = exam_of_mine
          count = stores.attempts.take_back(stores.attempts.to_take_back(exam).map(&:id))
          audit "took back", "exam #{exam.id}", "#{count} results"
          flash(
            if count.zero?
              "Nothing was taken back: ten minutes are over."
            else
              "#{count} results are taken back; trainees see them no more."
            end
          )
          redirect "/exams/#{exam.id}/publish"
        end

        app.post("/attempts/:id/publish") do
          attempt = attempt_taught
          stores.attempts.publish(attempt)
          audit "published", "attempt #{attempt.id}"
          flash "Published. For ten minutes it can be taken back here."
          redirect "/attempts/#{attempt.id}/result"
        end

        app.post("/attempts/:id/take-back") do
          attempt = attempt_taught
          taken = stores.attempts.take_back([attempt.id]).positive?
          audit "took back", "attempt #{attempt.id}" if taken
          flash(
            if taken
              "Taken back; the trainee sees it no more."
            else
              "It was published more than ten minutes ago, and stays so."
            end
          )
          redirect "/attempts/#{attempt.id}/result"
        end
      end
    end
  end
end
