# frozen_string_literal: true

module Web
  module Routes
    # What trainees do by themselves: practice, as their class lets them.
    module Practising
      def self.registered(app)
        drills(app)
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

        app.get("/classes/:id/skills") do
          course = course_of_mine
          page :"practise/skills", title: "Skills of #{course.name}", course: course, map: skill_map(course)
        end

        # A set for each of those chosen, of what they need most.
        app.post("/classes/:id/drills") do
          course = course_of_mine
          chosen = Form.new(params).list(:trainees).map(&:to_i)
          sets = skill_map(course).sets(chosen, cases: params[:cases] == "1")
          stores.drills.give(course, sets)
          audit "gave drills", "class #{course.id}", "#{sets.size} trainees"
          set = "#{sets.size} have a set of #{::Benches::SkillMap::SET} drills."
          flash(sets.empty? ? "Choose who gets a set." : set)
          redirect "/classes/#{course.id}/skills"
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

      # One skill, one to three minutes.
      def self.drills(app)
        app.get("/drills") do
          need_trainee!
          not_in_an_exam! if stores.attempts.examined?(current_user)
          course = practised_course
          nexts = course ? next_drills(course) : []
          prepare_drill(course, nexts.first)
          page :"practise/drills",
            title: "Drills",
            drills: drilling.by(practised_procedures(course)),
            tries: stores.drills.of(current_user),
            given: stores.drills.left_of_set(current_user),
            nexts: nexts
        end

        # What was given to them first, then what they are weakest in.
        app.post("/drills/next") do
          need_trainee!
          not_in_an_exam! if stores.attempts.examined?(current_user)
          course = practised_course || halt(404)
          start_drill(course, next_drills(course).first || halt(404))
        end

        app.post("/drills/:drill") do
          need_trainee!
          not_in_an_exam! if stores.attempts.examined?(current_user)
          course = practised_course || halt(404)
          start_drill(course, params[:drill].to_s.to_sym)
        end

        app.get("/attempts/:id/drilled") do
          attempt = attempt_with_result
          halt 404 unless attempt.drill
          outcome = drilling.outcome(attempt)
          course = practised_course
          prepare_drill(course, next_drills(course).first) if course && current_user.id == attempt.trainee_id
          page :"practise/drilled", title: "Drill", attempt: attempt, outcome: outcome
        end
      end
    end
  end
end
