# frozen_string_literal: true

module Web
  module Routes
    # Building stations, with their truth in sight; copies, files, and whole sets made from a seed.
    module Builder
      def self.registered(app)
        app.get("/stations/new") do
          need_instructor!
          assembly =
            catalog.assemblies[params[:assembly].to_s.to_sym] ||
            catalog.assemblies.fetch(:rp)
          show_builder(StationForm.fresh(assembly, catalog, site: params[:site].to_s))
        end

        app.post("/stations") do
          need_instructor!
          form = StationForm.new(params, built_assembly, catalog)
          next show_builder(form, code: 422) unless form.valid?

          id = stores.stations.create(current_user, form.to_yaml)
          audit "built a station", "station #{id}", form[:title]
          redirect "/stations/#{id}"
        end

        # What a correct tester would read there, while it is being built.
        app.post("/stations/preview") do
          need_instructor!
          form = StationForm.new(params, built_assembly, catalog)
          seed = [whole(:preview_seed), 1].max
          piece :"stations/_preview",
            form: form,
            seed: seed,
            sheet: (TruthSheet.new(form.station, seed: seed) { |item| usual_policy.adjust(item) } if form.valid?)
        end

        # Before the routes that take any name for a station's.
        files(app)

        app.get("/stations/:id/edit") do
          station_of_mine.then { |row| show_builder(StationForm.of(row.station), row: row) }
        end

        app.post("/stations/:id") do
          row = station_of_mine
          form = StationForm.new(params, row.station.assembly, catalog)
          next show_builder(form, row: row, code: 422) unless form.valid?

          stores.stations.update(row, form.to_yaml)
          audit "changed a station", "station #{row.id}", form[:title]
          redirect "/stations/#{row.id}"
        end

        app.post("/stations/:id/delete") do
          row = station_of_mine
          if stores.stations.put_away(row) == :deleted
            audit "deleted a station", "station #{row.id}", row.title
            flash "#{row.title} is deleted."
          else
            audit "archived a station", "station #{row.id}", row.title
            flash "#{row.title} is in use, so it is archived. Exams and results keep it; you can restore it."
          end
          redirect "/stations"
        end

        app.post("/stations/:id/restore") do
          row = station_of_mine
          stores.stations.archive(row, false)
          audit "restored a station", "station #{row.id}", row.title
          flash "#{row.title} is at hand again."
          redirect "/stations/#{row.id}"
        end

        app.post("/stations/:id/duplicate") do
          row = station_of_mine
          data = row.station.data.merge(title: "#{row.title} (copy)")
          id = stores.stations.create(current_user, YAML.dump(JSON.parse(JSON.generate(data))))
          redirect "/stations/#{id}/edit"
        end

        app.get("/stations/:id/export") do
          row = station_of_mine
          attachment "#{row.station.id}.yml"
          content_type "application/yaml"
          row.body
        end
      end

      def self.files(app)
        app.post("/stations/import") do
          need_instructor!
          file = Form.upload(params["file"])
          text = file.empty? ? params[:text].to_s : file.force_encoding("UTF-8")
          id = stores.stations.create(current_user, text)
          redirect "/stations/#{id}"
        rescue Nurv::DataError => error
          status 422
          show_stations(
            stores.stations.of(current_user),
            import_error: words.problems(error.problems).map { |where, what| "#{where}: #{what}" }.join("; ")
          )
        end

        app.post("/stations/generate") do
          need_instructor!
          procedure = catalog.procedures[params[:procedure].to_s.to_sym] || halt(404)
          difficulty =
            Nurv::Expert::Generator::DIFFICULTIES.keys.find { |key| key.to_s == params[:difficulty] } || :medium
          count = whole(:count).clamp(1, 12)
          seed = (whole(:seed).positive? ? whole(:seed) : rand(1..99_999))
          set_to_work "generate", procedure: procedure.id, difficulty: difficulty, seed: seed, count: count
        end
      end
    end
  end
end
