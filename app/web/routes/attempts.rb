# frozen_string_literal: true

module Web
  module Routes
    # Attempts as pieces of work: who has which, how far it is, and the graded result.
    module Attempts
      def self.registered(app)
        app.get("/today") do
          need_instructor!
          page :"attempts/today", title: "Today", attempts: Store::Attempts.new.of_instructor(current_user)
        end

        app.get("/work") do
          need_trainee!
          page :"attempts/work", title: "My work", attempts: Store::Attempts.new.of_trainee(current_user)
        end

        app.get("/attempts/:id/start") do
          attempt = attempt_at_work
          redirect "/attempts/#{attempt.id}/bench" unless attempt.status == "assigned"
          page :"attempts/start", title: attempt.station.public_name, attempt: attempt,
            policy: Nurv::Catalog.default.policies.fetch(attempt.policy.to_sym)
        end

        app.post("/attempts/:id/begin") do
          attempt = attempt_at_work
          Store::Attempts.new.begin(attempt, wall_ms)
          redirect "/attempts/#{attempt.id}/bench"
        end

        app.post("/attempts/:id/publish") do
          attempt = attempt_taught
          Store::Attempts.new.publish(attempt)
          Store::Audits.new.note(current_user, "published", "attempt #{attempt.id}")
          redirect "/attempts/#{attempt.id}/result"
        end

        app.get("/attempts/:id/result") do
          attempt = attempt_of_mine
          halt 404 unless attempt.over?
          mine = attempt.instructor_id == current_user.id
          if !mine && !attempt.open_to_trainee?
            next page(:"shared/message", title: "Handed in", text: "Your instructor reviews this exam and then publishes the result.")
          end
          page :"attempts/result", title: "Result", wide: true, attempt: attempt, taught: mine, sheet: GradeSheet.of(attempt)
        end

        # The bench at a moment of the replay, drawn as it stood.
        app.get("/attempts/:id/replay") do
          attempt = attempt_of_mine
          halt 404 unless attempt.over?
          halt 404 if attempt.instructor_id != current_user.id && !attempt.open_to_trainee?
          sheet = GradeSheet.of(attempt)
          screen = sheet.screen_at(params[:ms].to_i)
          piece :"attempts/_replay_scene", screen: screen, sheet: sheet, ms: params[:ms].to_i
        end
      end
    end
  end
end
