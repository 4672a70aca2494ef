# frozen_string_literal: true

module Web
  module Routes
    # The proctor's sheet, for a wet or dry bench in the room.
    module Proctors
      ACTS = %w[mark fill find submit].freeze

      def self.registered(app)
        app.get("/proctor") do
          need_instructor!
          page :"proctor/index",
            title: "Proctor sheets",
            attempts: stores.attempts.proctored(current_user),
            stations: stores.stations.of(current_user),
            trainees: stores.classes.trainees_of(current_user),
            problem: nil
        end

        app.post("/proctor") do
          need_instructor!
          station = stores.stations.find(current_user, whole(:station_id))
          trainee =
            stores.classes.trainees_of(current_user).find { |person| person.id.to_s == params[:trainee_id] }
          unless station && trainee
            status 422
            next(
              page(
                :"proctor/index",
                title: "Proctor sheets",
                attempts: stores.attempts.proctored(current_user),
                stations: stores.stations.of(current_user),
                trainees: stores.classes.trainees_of(current_user),
                problem: "Choose a station and a trainee."
              )
            )
          end
          attempt =
            stores.attempts.create(
              station_row: station,
              instructor: current_user,
              trainee: trainee,
              mode: "proctor",
              seed: 1,
              policy: usual_policy,
              course: stores.classes.shared(current_user, trainee)
            )
          audit "began a proctor sheet", "attempt #{attempt.id}", "#{station.title}, #{trainee.name}"
          stores.attempts.begin(attempt, wall_ms)
          redirect "/proctor/#{attempt.id}"
        end

        app.get("/proctor/:id") do
          attempt = proctored_by_me
          redirect "/attempts/#{attempt.id}/result" if attempt.over?
          name = stores.users.find(attempt.trainee_id).name
          next page(:"proctor/begin", title: "Proctor sheet", attempt: attempt, name: name) if attempt.assigned?

          page :"proctor/show", title: "Proctor sheet", wide: true, sheet: ProctorSheet.new(attempt, stores), name: name
        end

        app.post("/proctor/:id/begin") do
          attempt = stores.attempts.begin(proctored_by_me, wall_ms)
          redirect "/proctor/#{attempt.id}"
        end

        app.post("/proctor/:id/acts") do
          attempt = proctored_by_me
          halt 404 unless attempt.started? && ACTS.include?(params[:kind])
          data =
            %i[kind step as field value finding]
              .filter_map { |name| [name, params[name].to_s] if params.key?(name) }
              .to_h
          keeper.of(attempt).intervene(attempt, data, id: params[:action_id].to_s[0, 64], wall_ms: wall_ms)
          attempt = stores.attempts.find(attempt.id)
          if attempt.over?
            if htmx?
              halt(200, {"HX-Redirect" => "/attempts/#{attempt.id}/result"}, "")
            else
              redirect("/attempts/#{attempt.id}/result")
            end
          end
          piece :"proctor/_sheet", sheet: ProctorSheet.new(attempt, stores), problem: nil
        rescue Nurv::RefusedAction => error
          piece :"proctor/_sheet",
            sheet: ProctorSheet.new(stores.attempts.find(attempt.id), stores),
            problem: refusal(error, attempt)
        end

        # The gauge on a second screen.
        app.get("/proctor/:id/gauge") do
          attempt = proctored_by_me
          page :"proctor/gauge", title: "Gauge", wide: true, sheet: ProctorSheet.new(attempt, stores)
        end

        app.get("/proctor/:id/gauge/now") { piece :"proctor/_gauge", sheet: ProctorSheet.new(proctored_by_me, stores) }

        # A running bench's gauge, big, for a projector.
        app.get("/attempts/:id/display") do
          attempt = attempt_taught
          halt 404 unless attempt.started?
          screen = bench_screen(attempt, eyes: false)
          page :"exams/display", title: "Gauge", wide: true, attempt: attempt, screen: screen
        end

        app.get("/attempts/:id/display/now") do
          attempt = attempt_taught
          halt 404 unless attempt.started?
          piece :"exams/_display", screen: bench_screen(attempt, eyes: false)
        end
      end
    end
  end
end
