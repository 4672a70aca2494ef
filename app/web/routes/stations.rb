# frozen_string_literal: true

module Web
  module Routes
    # An instructor's stations: the list, truth sheets, and giving one to a trainee.
    module Stations
      def self.registered(app)
        app.get("/stations") do
          need_instructor!
          archived = params[:archived] == "1"
          rows = stores.stations.of(current_user, archived: archived)
          query = params[:q].to_s.strip.downcase
          unless query.empty?
            rows =
              rows.select do |row|
                "#{row.title} #{row.station.site.name} #{row.station.assembly.short}".downcase.include?(query)
              end
          end
          show_stations(rows, query: query, archived: archived)
        end

        app.get("/stations/:id") do
          row = station_of_mine
          show_station(row, AssignForm.new(params, stores.classes.trainees_of(current_user)))
        end

        app.post("/stations/:id/assign") do
          row = station_of_mine
          form = AssignForm.new(params, stores.classes.trainees_of(current_user))
          unless form.valid?
            status 422
            next show_station(row, form)
          end
          attempt =
            stores.attempts.create(
              station_row: row,
              instructor: current_user,
              trainee: form.trainee,
              mode: form.mode,
              seed: form.seed,
              policy: usual_policy,
              course: stores.classes.shared(current_user, form.trainee)
            )
          audit "assigned", "attempt #{attempt.id}", "#{row.title} to #{form.trainee.name}, #{form.mode}"
          flash "#{row.title} given to #{form.trainee.name} as #{form.mode}."
          redirect "/today"
        end

        # An instructor at the bench themselves.
        app.post("/stations/:id/try") do
          row = station_of_mine
          attempt =
            stores.attempts.create(
              station_row: row,
              instructor: current_user,
              trainee: current_user,
              mode: "practice",
              seed: 1,
              policy: usual_policy
            )
          stores.attempts.begin(attempt, wall_ms)
          redirect "/attempts/#{attempt.id}/bench"
        end
      end
    end
  end
end
