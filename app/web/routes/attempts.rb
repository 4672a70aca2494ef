# frozen_string_literal: true

module Web
  module Routes
    # Attempts as pieces of work: who has which, how far it is, and the graded result.
    module Attempts
      def self.registered(app)
        app.get("/today") do
          need_instructor!
          attempts = stores.attempts
          exams = stores.exams.of(current_user)
          exams.select(&:open?).each { |exam| tick(exam) }
          page :"attempts/today",
            title: "Today",
            damaged: attempts.damaged(current_user),
            attempts: attempts.of_instructor(current_user, limit: 30),
            to_review: attempts.count_to_review(current_user),
            exams: exams,
            courses: stores.classes.of(current_user),
            practising: attempts.practising(current_user)
        end

        app.get("/work") do
          need_trainee!
          list = stores.attempts.of_trainee(current_user)
          shown = list.select(&:open_to_trainee?)
          page :"attempts/work",
            title: "My work",
            attempts: list,
            examined: stores.attempts.examined?(current_user),
            waits_for: stores.classes.waited_for_by(current_user),
            waiting: missing_grades(shown),
            standings: stores.grades.standings(shown)
        end

        app.get("/attempts/:id/start") do
          attempt = attempt_at_work
          redirect "/attempts/#{attempt.id}/bench" unless attempt.assigned?
          make_ready_with_its_exam(attempt)
          page :"attempts/start", title: attempt.station.public_name, attempt: attempt, exam: exam_of(attempt)
        end

        app.post("/attempts/:id/begin") do
          attempt = attempt_at_work
          halt 404 if attempt.proctored?
          exam = exam_of(attempt)
          redirect "/attempts/#{attempt.id}/start" if exam && (exam.paused? || !exam.open?) && attempt.assigned?
          stores.attempts.start_clock(attempt, wall_ms)
          redirect "/attempts/#{attempt.id}/bench"
        end

        app.get("/attempts/:id/result") do
          attempt = attempt_of_mine
          halt 404 unless attempt.over?
          redirect "/attempts/#{attempt.id}/drilled" if attempt.drill
          mine = attempt.instructor_id == current_user.id
          if !mine && !attempt.open_to_trainee?
            next(
              page(
                :"shared/message",
                title: "Handed in",
                text: "Your instructor reviews this exam and then publishes the result."
              )
            )
          end
          attempt = attempt_with_result
          waiting = missing_grades([attempt])
          next page(:"attempts/waiting", title: "Result", attempt: attempt, waiting: waiting) if waiting.any?

          problem = stores.grades.problem_with(attempt)
          if problem
            next page(:"attempts/cannot_grade", title: "Cannot be graded", attempt: attempt, problem: problem)
          end

          show_result(attempt)
        end

        # Its needle as a line. Both runs are done again for it, so the page does not wait for it.
        app.get("/attempts/:id/trace") do
          attempt = attempt_to_read
          per_psi = Nurv::Units::PER_PSI.fetch(attempt.grading_policy.unit)
          piece :"attempts/_trace", trace: GradeSheet.of(attempt, stores).trace, per_psi: per_psi
        end

        # A lost line once more, from just before its step had its turn, at a practice bench.
        app.post("/attempts/:id/take-up") do
          attempt = attempt_with_result
          halt 404 unless attempt.trainee_id == current_user.id && !attempt.proctored?
          sheet = GradeSheet.of(attempt, stores)
          line = sheet.grade.lines.find { |one| one.key == params[:line].to_s && one.lost? } || halt(404)
          again = keeper.take_up(attempt, sheet.acts_before(line), wall_ms)
          flash "The bench as it stood before “#{sheet.told.tell(line).title}”. Do better what came after."
          redirect "/attempts/#{again.id}/bench"
        end

        # The bench at a moment of the replay, drawn as it stood.
        app.get("/attempts/:id/replay") do
          attempt = attempt_with_result
          sheet = GradeSheet.of(attempt, stores)
          screen = sheet.screen_at(whole(:ms))
          piece :"attempts/_replay_scene", screen: screen, sheet: sheet, ms: whole(:ms)
        end
      end
    end
  end
end
