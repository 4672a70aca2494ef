# frozen_string_literal: true

module Web
  module Routes
    # What was handed in: the queue, overrides and comments, publishing, grading again under another policy, retests.
    module Reviews
      def self.registered(app)
        app.get("/review") do
          need_instructor!
          stores.exams.of(current_user).select(&:open?).each { |exam| tick(exam) }
          list = stores.attempts.to_review(current_user)
          waiting = missing_grades(list)
          page :"review/index",
            title: "Review",
            attempts: list,
            standings: stores.grades.standings(list),
            waiting: waiting,
            count: stores.attempts.count_to_review(current_user),
            exams: stores.exams.of(current_user).to_h { |exam| [exam.id, exam] }
        end

        app.post("/attempts/:id/override") do
          attempt = attempt_taught
          halt 404 unless attempt.over?
          form = OverrideForm.new(params, stores.grades.computed(attempt))
          unless form.valid?
            status 422
            next show_result(attempt, form)
          end
          stores.grades.override(
            attempt,
            current_user,
            line: form[:line],
            earned: form.earned,
            reason: form[:reason]
          )
          audit "overrode a line",
            "attempt #{attempt.id}",
            "#{GradeSheet.of(attempt, stores).title_of(form[:line])}: " \
              "#{format("%g", form.earned)} of #{form.line.points}. #{form[:reason]}"
          redirect "/attempts/#{attempt.id}/result"
        end

        # By the water of today, where the kept grade is of before.
        app.post("/attempts/:id/grade-again") do
          attempt = attempt_taught
          halt 404 unless attempt.over?
          set_to_work "grade_again", attempt_id: attempt.id
        end

        # What could not be graded is tried again, by whoever waits for it.
        app.post("/attempts/:id/grade-once-more") do
          attempt = attempt_with_result
          stores.grades.try_again(attempt) if stores.grades.problem_with(attempt)
          redirect "/attempts/#{attempt.id}/result"
        end

        app.post("/attempts/:id/comment") do
          attempt = attempt_taught
          stores.attempts.comment(attempt, params[:comment].to_s.strip[0, 2000])
          audit "commented", "attempt #{attempt.id}"
          flash "The comment is kept; the trainee sees it with the result."
          redirect "/attempts/#{attempt.id}/result"
        end

        # A second attempt on another variant, linked to the first.
        app.post("/attempts/:id/retest") do
          attempt = attempt_taught
          halt 404 unless second_attempt?(attempt) || missed?(attempt)
          again = stores.attempts.create_retest(attempt, rand(1..999_999))
          audit "gave a second attempt", "attempt #{again.id}", "after attempt #{attempt.id}"
          flash(
            if missed?(attempt)
              "A bench, on another variant, is with the trainee."
            else
              "A second attempt, on another variant, is with the trainee."
            end
          )
          redirect missed?(attempt) ? "/exams/#{attempt.exam_id}" : "/attempts/#{attempt.id}/result"
        end

        regrade(app)
      end

      def self.regrade(app)
        app.get("/exams/:id/regrade") do
          exam = exam_of_mine
          job = params[:job] && stores.jobs.find_for(current_user, whole(:job))
          tried = job&.kind == "regrade" && job.data[:exam_id] == exam.id && job.result
          policy = tried ? Nurv::Grading::Policy.new(job.data[:policy]) : exam.policy
          show_regrade(exam, PolicyForm.of(policy), tried ? tried[:changes] : nil)
        end

        # Works out what would change; with `apply`, changes it.
        app.post("/exams/:id/regrade") do
          exam = exam_of_mine
          form = PolicyForm.new(params)
          unless form.valid?
            status 422
            next show_regrade(exam, form)
          end
          policy = Nurv::Grading::Policy.new({**form.data, procedures: exam.policy.procedures})
          set_to_work "regrade", exam_id: exam.id, policy: policy.data unless params[:apply]

          stores.exams.change_policy(exam, policy)
          want_grades(stores.attempts.of_exam(exam))
          audit "changed the policy", "exam #{exam.id}", exam.title
          flash "The policy is changed. Results are graded by it from now on."
          redirect "/exams/#{exam.id}"
        end
      end
    end
  end
end
