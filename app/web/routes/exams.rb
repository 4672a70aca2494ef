# frozen_string_literal: true

module Web
  module Routes
    # Exams: set up, opened, watched, paused, closed.
    module Exams
      def self.registered(app)
        app.get("/classes/:id/exams/new") do
          room = room_of_mine
          policies = Store::Policies.new.of(current_user)
          show_exam_form(room, ExamForm.from(policies[params[:policy].to_s] || policies["standard"], Store::Stations.new.of(current_user)), policies)
        end

        app.post("/classes/:id/exams") do
          room = room_of_mine
          form = ExamForm.new(params, Store::Stations.new.of(current_user))
          unless form.valid?
            status 422
            next show_exam_form(room, form, Store::Policies.new.of(current_user))
          end
          policy = Store::Policies.new.with_procedures(current_user, form.policy)
          exam = Store::Exams.new.create(current_user, room, title: form[:title], policy: policy, stations: form.stations, shuffled: form.shuffled?, seed: form.seed)
          audit "set up an exam", "exam #{exam.id}", exam.title
          redirect "/exams/#{exam.id}"
        end

        app.get("/exams/:id") do
          exam = exam_of_mine
          attempts = tick(exam)
          Store::Grades.new.catch_up(attempts, seconds: 0.7)
          room = room_of_exam(exam)
          page :"exams/show", title: exam.title, exam: exam, room: room, attempts: attempts, standings: Store::Grades.new.standings(attempts), members: Store::Classes.new.members(room)
        end

        acts(app)
        room(app)
      end

      def self.acts(app)
        app.post("/exams/:id/open") do
          exam = exam_of_mine
          unless Store::Exams.new.open(exam, Store::Classes.new.members(room_of_exam(exam)))
            flash "This exam is closed. Set up another one from the class."
            redirect "/exams/#{exam.id}"
          end
          audit "opened", "exam #{exam.id}", exam.title
          redirect "/exams/#{exam.id}/room"
        end

        app.post("/exams/:id/pause") do
          exam = exam_of_mine
          exam.paused? ? Store::Exams.new.resume(exam, wall_ms) : Store::Exams.new.pause(exam, wall_ms)
          audit exam.paused? ? "let go on" : "paused", "exam #{exam.id}"
          redirect "/exams/#{exam.id}/room"
        end

        app.post("/exams/:id/close") do
          exam = exam_of_mine
          halt 404 unless exam.open?
          Store::Exams.new.close(exam, wall_ms)
          audit "closed", "exam #{exam.id}", exam.title
          redirect "/review"
        end

        app.post("/exams/:id/delete") do
          exam = exam_of_mine
          halt 404 unless exam.draft?
          Store::Exams.new.delete_draft(exam)
          audit "deleted a draft", "exam #{exam.id}", exam.title
          redirect "/classes/#{exam.class_id}"
        end

        app.post("/attempts/:id/extend") do
          attempt = attempt_taught
          minutes = params[:minutes].to_i.clamp(1, 120)
          Store::Attempts.new.extend_time(attempt, minutes)
          audit "gave more time", "attempt #{attempt.id}", "#{minutes} minutes"
          flash "#{minutes} minutes more."
          redirect attempt.exam_id ? "/exams/#{attempt.exam_id}/room" : "/today"
        end
      end

      def self.room(app)
        app.get("/exams/:id/room") do
          exam = exam_of_mine
          page :"exams/room", title: "Room · #{exam.title}", wide: true, exam: exam, benches: room_view(tick(exam, progress: true))
        end

        app.get("/exams/:id/benches") do
          exam = exam_of_mine
          piece :"exams/_benches", benches: room_view(tick(exam, progress: true))
        end

        app.get("/practice-room") do
          need_instructor!
          page :"exams/practice", title: "Practice room", wide: true, benches: room_view(Store::Attempts.new.practising(current_user, progress: true))
        end

        # A bench as its trainee sees it, to be looked at only.
        app.get("/attempts/:id/watch") do
          attempt = attempt_taught
          redirect "/attempts/#{attempt.id}/result" if attempt.over?
          halt 404 unless attempt.started?
          page :"exams/watch", title: "Watching", wide: true, attempt: attempt, screen: bench_screen(attempt), sheet: TruthSheet.new(attempt.variant.station, seed: attempt.seed), name: Store::Users.new.find(attempt.trainee_id).name
        end

        app.get("/attempts/:id/watch/scene") do
          attempt = attempt_taught
          halt 200, {"HX-Redirect" => "/attempts/#{attempt.id}/result"}, "" if attempt.over?
          halt 404 unless attempt.started?
          piece :"exams/_watched", screen: bench_screen(attempt), attempt: attempt
        end

        # Trouble put into a practice bench: it is in the log like any act.
        app.post("/attempts/:id/inject") do
          attempt = attempt_taught
          halt 404 unless attempt.mode == "practice" && attempt.started?
          data = InjectForm.new(params).data
          Store::LiveBench.of(attempt).intervene(attempt, data, id: "inject-#{params[:action_id].to_s[0, 60]}", wall_ms: wall_ms)
          audit "put trouble in", "attempt #{attempt.id}", data.except(:kind).values.join(" ")
          flash "It happens now, and it is in the log."
          redirect "/attempts/#{attempt.id}/watch"
        rescue Nurv::RefusedAction => error
          flash error.message
          redirect "/attempts/#{attempt.id}/watch"
        end
      end
    end
  end
end
