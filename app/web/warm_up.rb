# frozen_string_literal: true

module Web
  # What a server does before anybody comes: views are read and compiled, and at a bench of each kind a test is done and
  # drawn act by act, so that the first of everything is not a trainee's. Nothing of it is kept.
  class WarmUp
    VIEWS = File.expand_path("../views/bench", __dir__)
    # Code that has run so often is compiled.
    PAGES = 15
    # Where the bench that is warmed up on finds its facts.
    Facts = Struct.new(:catalog) do
      def fetch(_id) = catalog
    end

    # @param settings [Sinatra::Base]
    # @param catalog [Nurv::Catalog]
    # @return [Thread]
    def self.run(settings, catalog)
      Thread.new do
        # Whoever comes meanwhile goes first.
        Thread.current.priority = -3
        new(settings, catalog).run
      rescue => error
        # It was only to be quicker later.
        warn "warming up: #{error.class}: #{error.message.lines.first}"
      end
    end

    def initialize(settings, catalog)
      @settings = settings
      @catalog = catalog
      @page = settings.new!
      @page.instance_variable_set(:@env, {"rack.session" => {}})
      @page.instance_variable_set(:@current_user, nil)
      @page.define_singleton_method(:session) { {} }
    end

    # @return [Integer] how many pages and pieces were drawn
    def run
      Dir[File.join(VIEWS, "_*.erb")].sort.each do |path|
        Helpers::Pages.template(:"bench/#{File.basename(path, ".erb")}", @settings)
      end
      @catalog.demo_stations.uniq { |station| station.assembly.id }.sum { |station| work_at(station) }
    end

    private

    def work_at(station)
      attempt = attempt_at(station)
      log = Nurv::Expert::Truth.of(attempt.variant, station.procedures.first).run.log
      span = Nurv::Bench::Span.new(attempt.variant, Nurv::Bench::Opening.new(attempt.variant).state)
      PAGES.times do
        @page.page(:"bench/show", title: "Bench", wide: true, attempt: attempt, screen: screen(attempt, span, 0))
      end
      log.each do |action|
        span = span.after(action)
        @page.piece(:"bench/_#{@page.part_of(action.to_h.transform_values(&:to_s))}",
          screen: screen(attempt, span, action.at_ms), problem: nil, notice: nil, turned: action[:valve].to_s)
      end
      PAGES + log.size
    end

    def screen(attempt, span, now_ms) =
      BenchScreen.new(attempt, span, now_ms: now_ms, seq: 1, until_ms: now_ms + BenchScreen::HORIZON_MS)

    # A bench of nobody's, in no database.
    def attempt_at(station)
      nobody = Store::Attempt::COLUMNS.to_h { |name| [name, nil] }
      counts = %i[id seed last_seq anchor_sim_ms extra_ms skipped_ms].to_h { |name| [name, 0] }
      Store::Attempt.new(
        nobody.merge(counts).merge(
          mode: "exam",
          policy: "standard",
          status: Store::Status::STARTED,
          station_body: station.to_yaml,
          anchor_wall_ms: Clock.wall_ms
        ),
        Facts.new(@catalog)
      )
    end
  end
end
