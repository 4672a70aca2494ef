# frozen_string_literal: true

module Web
  module Routes
    # An instructor's stations: the list, a truth sheet, and giving one to a trainee.
    module Stations
      def self.registered(app)
        app.get("/stations") do
          need_instructor!
          rows = Store::Stations.new.of(current_user)
          page :"stations/index", title: "Stations", stations: rows
        end

        app.get("/stations/:id") do
          need_instructor!
          row = Store::Stations.new.find(current_user, params[:id].to_i) || halt(404)
          page :"stations/show", title: row.title, sheet: TruthSheet.new(row), form: AssignForm.new({}, Store::Users.new.trainees)
        end

        app.post("/stations/:id/assign") do
          need_instructor!
          row = Store::Stations.new.find(current_user, params[:id].to_i) || halt(404)
          form = AssignForm.new(params, Store::Users.new.trainees)
          unless form.valid?
            status 422
            next page(:"stations/show", title: row.title, sheet: TruthSheet.new(row), form: form)
          end
          attempt = Store::Attempts.new.create(station_row: row, instructor: current_user, trainee: form.trainee, mode: form.mode, seed: form.seed)
          Store::Audits.new.note(current_user, "assigned", "attempt #{attempt.id}", "#{row.title} to #{form.trainee.name}, #{form.mode}")
          flash "#{row.title} given to #{form.trainee.name} as #{form.mode}."
          redirect "/today"
        end
      end
    end
  end
end
