# frozen_string_literal: true

module Web
  module Routes
    # What trainees do by themselves: practice, as their class lets them.
    module Practising
      def self.registered(app)
        app.get("/practise") do
          need_trainee!
          not_in_an_exam! if stores.attempts.examined?(current_user)
          course = practised_course
          show_practise(course, practise_form(course, {"wrong" => "unknown", "difficulty" => "medium"}))
        end

        app.post("/practise") do
          need_trainee!
          not_in_an_exam! if stores.attempts.examined?(current_user)
          course = practised_course || halt(404)
          form = practise_form(course, params)
          unless form.valid?
            status 422
            next show_practise(course, form)
          end
          attempt = practice.begin(current_user, course, form.wish, wall_ms)
          redirect "/attempts/#{attempt.id}/bench"
        end

        # After handing in: the same again, another like it, or a harder one.
        app.post("/attempts/:id/onward") do
          attempt = attempt_with_result
          halt 404 unless attempt.trainee_id == current_user.id && attempt.practice?
          again =
            case params[:how]
            when "same" then practice.again(attempt, wall_ms)
            when "next", "harder" then practice.go_on(attempt, params[:how] == "harder", wall_ms)
            else halt 404
            end
          redirect "/attempts/#{again.id}/bench"
        end

        # By which procedures a class's trainees may practise on their own.
        app.post("/classes/:id/let-practise") do
          course = course_of_mine
          chosen = catalog.procedures.keys.map(&:to_s) & Form.new(params).list(:procedures)
          stores.classes.let_practise(course, chosen)
          audit "changed practice", "class #{course.id}", chosen.join(", ")
          shut = "Nobody practises on their own now."
          flash(chosen.empty? ? shut : "They may practise: #{chosen.join(", ").upcase}.")
          redirect "/classes/#{course.id}"
        end
      end
    end
  end
end
