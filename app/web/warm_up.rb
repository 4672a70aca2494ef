# frozen_string_literal: true

module Web
  # What a server does before anybody comes: views are read and compiled, and water has run at a bench of each kind, so
  # that the first of everything is not a trainee's.
  module WarmUp
    VIEWS = File.expand_path("../views/bench", __dir__)

    module_function

    # @param settings [Sinatra::Base]
    # @param catalog [Nurv::Catalog]
    # @return [Thread]
    def run(settings, catalog)
      Thread.new do
        Dir[File.join(VIEWS, "_*.erb")].sort.each do |path|
          Helpers::Pages.template(:"bench/#{File.basename(path, ".erb")}", settings)
        end
        catalog.demo_stations.uniq { |station| station.assembly.id }.each do |station|
          Nurv::Expert::Truth.of(Nurv::Stations::Variant.new(station, 1), station.procedures.first).run
        end
      rescue => error
        # It was only to be quicker later.
        warn "warming up: #{error.class}: #{error.message.lines.first}"
      end
    end
  end
end
