# frozen_string_literal: true

module Web
  module Routes
    # The bench itself: the page, its running picture, and acts.
    module Benches
      def self.registered(app)
        app.get("/attempts/:id/bench") do
          attempt = attempt_at_hand
          redirect "/attempts/#{attempt.id}/start" if attempt.assigned?
          redirect "/attempts/#{attempt.id}/result" if attempt.over?
          attempt = stores.attempts.seen(attempt, wall_ms)
          screen = bench_screen(attempt)
          stores.attempts.saw(attempt, wall_ms, screen.needle_psid)
          page :"bench/show", title: "Bench", wide: true, screen: screen, attempt: attempt
        end

        # Asked every second: the next stretch of needle and water, or the whole bench if it has moved on elsewhere.
        # What is usual is answered by Polls and does not come so far.
        app.get("/attempts/:id/frames") do
          attempt = attempt_in_time
          halt 200, {"HX-Redirect" => "/attempts/#{attempt.id}/result"}, "" if attempt.over?
          run_back!(attempt) if attempt.left?
          halt 404 unless attempt.started?
          attempt = stores.attempts.seen(attempt, wall_ms)
          screen = bench_screen(attempt)
          stores.attempts.saw(attempt, wall_ms, screen.needle_psid)
          next piece(:"bench/_frames", screen: screen, oob: false) if whole(:seq) == screen.seq

          piece :"bench/_moved_on", screen: screen, notice: moved_on_words(attempt, whole(:seq), params[:window].to_s)
        end

        app.post("/attempts/:id/actions") do
          # Nothing of the session changes, so it need not be signed and sent again.
          request.session_options[:skip] = true
          attempt = attempt_at_hand
          halt 200, {"HX-Redirect" => "/attempts/#{attempt.id}/result"}, "" if attempt.over?
          run_back!(attempt) if attempt.left?
          halt 404 unless attempt.started?
          attempt = stores.attempts.seen(attempt, wall_ms)
          data, problem = ActForm.new(params, attempt.procedures, words, attempt.grading_policy.unit).act
          unless problem
            bench = keeper.of(attempt)
            bench.act(attempt, data, id: params[:action_id].to_s[0, 64], known_seq: whole(:seq),
              seen_ms: whole(:seen_ms), wall_ms: wall_ms)
            attempt = (data[:kind] == "submit") ? stores.attempts.find(attempt.id) : attempt.after_act(bench.seq)
          end
          halt 200, {"HX-Redirect" => "/attempts/#{attempt.id}/result"}, "" if attempt.over?
          # Where a class looks on, nothing comes again by itself once somebody's hand is at it.
          stores.boards.own_hand(attempt) if attempt.instructors_own?
          act_answer(attempt, data, problem)
        rescue Nurv::RefusedAction => error
          act_answer(attempt, data, refusal(error, attempt))
        rescue Store::Attempts::MovedOn
          attempt = stores.attempts.find(attempt.id)
          words = moved_on_words(attempt, whole(:seq), params[:action_id].to_s.split("-").first.to_s)
          piece :"bench/_moved_on", screen: bench_screen(attempt), notice: "#{words} What you did last was not done."
        end

        # A control and its buttons as it stands, once the hand is off it.
        app.get("/attempts/:id/turned") do
          attempt = attempt_in_time
          halt 404 unless attempt.started?
          piece :"bench/_turned", screen: bench_screen(attempt), turned: params[:valve].to_s
        end

        # What a correct tester would see to next, and why.
        app.get("/attempts/:id/hint") do
          attempt = attempt_at_work
          halt 404 unless attempt.started? && attempt.may_ask?
          bench = keeper.of(attempt)
          piece :"bench/_hint", step: bench.look { bench.progress.next_step(bench.procedure) }
        end

        # In practice: a question, its reason, the act; or why the needle does what it does.
        app.get("/attempts/:id/coach") do
          attempt = attempt_at_work
          halt 404 unless attempt.started? && attempt.coached?
          screen = bench_screen(attempt)
          next why_piece(attempt, screen) if params[:level] == "why"

          level = Helpers::Benches::COACH_LEVELS.find { |one| one == params[:level] }
          next coach_piece(attempt, screen, level) if level

          piece :"bench/_coach", said: [], level: nil, mode: coach_mode, oob: true
        end

        # The same bench as it stood before the step reached last.
        app.post("/attempts/:id/back") do
          attempt = attempt_at_work
          halt 404 unless attempt.mode == "practice" && attempt.started?
          again = keeper.step_back(attempt, wall_ms)
          flash "The bench is as it was before the step you did last."
          redirect "/attempts/#{again.id}/bench"
        end

        # The same bench from the start.
        app.post("/attempts/:id/over") do
          attempt = attempt_at_work
          halt 404 unless attempt.mode == "practice"
          again = stores.attempts.start_over(attempt)
          stores.attempts.begin(again, wall_ms)
          flash "The same bench from the start."
          redirect "/attempts/#{again.id}/bench"
        end

        app.post("/attempts/:id/skip") do
          attempt = attempt_in_time
          halt 404 unless attempt.started? && attempt.may_skip? && !attempt.paused?
          attempt = stores.attempts.skip(attempt, 30)
          piece :"bench/_moved_on", screen: bench_screen(attempt), notice: "Half a minute has gone by."
        end
      end
    end
  end
end
