# frozen_string_literal: true

module Web
  module Routes
    # An exam while it runs: the room at a glance, pausing, more time, closing; and the practice room.
    module Rooms
      def self.registered(app)
        app.get("/exams/:id/room") do
          exam = exam_of_mine
          attempts = room_of(exam)
          page :"exams/room",
            title: "Room · #{exam.title}",
            wide: true,
            exam: exam_of_mine,
            benches: room_view(attempts),
            newcomers: newcomers_of(exam),
            late: latecomers(exam, attempts)
        end

        app.get("/exams/:id/benches") do
          exam = exam_of_mine
          attempts = room_of(exam)
          piece :"exams/_benches",
            benches: room_view(attempts),
            exam: exam,
            newcomers: newcomers_of(exam),
            late: latecomers(exam, attempts)
        end

        app.post("/exams/:id/pause") do
          exam = exam_of_mine
          halt 404 unless exam.open?
          exam.paused? ? stores.exams.resume(exam, wall_ms) : stores.exams.pause(exam, wall_ms)
          audit exam.paused? ? "let go on" : "paused", "exam #{exam.id}"
          flash exam.paused? ? "All clocks go on." : "All clocks stand still."
          redirect "/exams/#{exam.id}/room"
        end

        app.get("/exams/:id/extend") do
          exam = exam_of_mine
          halt 404 unless exam.open?
          page :"exams/extend",
            title: "More time · #{exam.title}",
            exam: exam,
            benches: benches_left(exam),
            form: TimeForm.new({"minutes" => "5"})
        end

        # For every bench that is not handed in, or for those that are ticked.
        app.post("/exams/:id/extend") do
          exam = exam_of_mine
          halt 404 unless exam.open?
          benches = benches_left(exam)
          form = TimeForm.new(params)
          unless form.valid?
            status 422
            next page(:"exams/extend", title: "More time · #{exam.title}", exam: exam, benches: benches, form: form)
          end
          chosen = form.some? ? benches.select { |attempt| form.chosen?(attempt) } : benches
          count = stores.attempts.extend_time(chosen, form.minutes)
          audit "gave more time", "exam #{exam.id}", "#{form.minutes} minutes, #{count} benches"
          everybody = count == benches.size
          whose = everybody ? "every bench that is not handed in (#{count})" : "#{count} of #{benches.size} benches"
          flash "#{form.minutes} minutes more for #{whose}."
          redirect "/exams/#{exam.id}/room"
        end

        app.post("/attempts/:id/extend") do
          attempt = attempt_taught
          minutes = whole(:minutes).clamp(1, 120)
          given = stores.attempts.extend_time([attempt], minutes)
          audit "gave more time", "attempt #{attempt.id}", "#{minutes} minutes"
          name = stores.users.find(attempt.trainee_id).name
          flash(
            if given.positive?
              "#{minutes} minutes more for #{name}."
            else
              "#{name} has handed in already; nothing was given."
            end
          )
          redirect attempt.exam_id ? "/exams/#{attempt.exam_id}/room" : "/today"
        end

        closing(app)
        watching(app)
      end

      def self.closing(app)
        app.get("/exams/:id/close") do
          exam = exam_of_mine
          halt 404 unless exam.open?
          page :"exams/close",
            title: "Close #{exam.title}",
            exam: exam,
            closing: Closing.new(tick(exam), latecomers(exam))
        end

        app.post("/exams/:id/close") do
          exam = exam_of_mine
          halt 404 unless exam.open?
          absent = keeper.close(exam, wall_ms)
          audit "closed", "exam #{exam.id}", exam.title
          left_out = " #{absent} benches never begun stay out of marks and analysis." if absent.positive?
          flash "#{exam.title} is closed.#{left_out}"
          redirect "/exams/#{exam.id}/publish"
        end
      end

      def self.watching(app)
        app.get("/practice-room") do
          need_instructor!
          page :"exams/practice",
            title: "Practice room",
            wide: true,
            benches: room_view(stores.attempts.practising(current_user, progress: true))
        end

        # A bench as its trainee sees it, to be looked at only.
        app.get("/attempts/:id/watch") do
          attempt = attempt_taught
          redirect "/attempts/#{attempt.id}/result" if attempt.over?
          halt 404 unless attempt.started?
          policy = attempt.grading_policy
          page :"exams/watch",
            title: "Watching",
            wide: true,
            attempt: attempt,
            screen: bench_screen(attempt, eyes: false),
            sheet: TruthSheet.new(attempt.variant.station, seed: attempt.seed) { |one| policy.adjust(one) },
            name: stores.users.find(attempt.trainee_id).name
        end

        app.get("/attempts/:id/watch/scene") do
          attempt = attempt_taught
          halt 200, {"HX-Redirect" => "/attempts/#{attempt.id}/result"}, "" if attempt.over?
          halt 404 unless attempt.started?
          piece :"exams/_watched", screen: bench_screen(attempt, eyes: false), attempt: attempt
        end

        # Trouble put into a practice bench: it is in the log like any act.
        app.post("/attempts/:id/inject") do
          attempt = attempt_taught
          halt 404 unless attempt.practice? && attempt.started?
          data = InjectForm.new(params).data
          keeper.of(attempt).intervene(
            attempt,
            data,
            id: "inject-#{params[:action_id].to_s[0, 60]}",
            wall_ms: wall_ms
          )
          audit "put trouble in", "attempt #{attempt.id}", data.except(:kind).values.join(" ")
          flash "It happens now, and it is in the log."
          redirect "/attempts/#{attempt.id}/watch"
        rescue Nurv::RefusedAction => error
          flash refusal(error, attempt)
          redirect "/attempts/#{attempt.id}/watch"
        end
      end
    end
  end
end
