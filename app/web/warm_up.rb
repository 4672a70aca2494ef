# frozen_string_literal: true

require "rack/mock"

module Web
  # What a server does before anybody comes: at a bench of each kind a tester that does not exist begins, looks and does
  # a test, by the same routes and stores as everybody, in a database that is in memory and gone with it. So the first
  # of everything is not a trainee's.
  class WarmUp
    VIEWS = File.expand_path("../views/bench", __dir__)
    # Code that has run so often is compiled.
    BENCHES = 12
    LOGIN = "warm"

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
      @catalog = catalog
      @served = settings.stores
      database = Database.furnish(Sequel.sqlite(keep_reference: false))
      Database.migrate(database)
      @stores = stores = Store::Cabinet.new(database, catalog)
      @app =
        Class.new(settings) do
          set :stores, stores
          set :keeper, Benches::Keeper.new(stores)
        end
      @teacher = @stores.users.create(role: "instructor", name: "Warm", login: "#{LOGIN}er", password: LOGIN)
      @tester = @stores.users.create(role: "trainee", name: "Warm", login: LOGIN, password: LOGIN)
      @session = {"token" => @stores.sessions.begin(@tester)}
    end

    # @return [Hash{Integer => Integer}] status => how many answers had it
    def run
      Dir[File.join(VIEWS, "_*.erb")].sort.each do |path|
        Helpers::Pages.template(:"bench/#{File.basename(path, ".erb")}", @app)
      end
      put_questions
      @catalog.demo_stations.uniq { |station| station.assembly.id }.flat_map { |station| work_at(station) }.tally
    ensure
      @stores.database.disconnect
    end

    private

    # What is asked with every page is put to the database that is served, of nobody and of no bench: to write such a
    # question down takes longer than a page.
    def put_questions
      @served.visits.at("", 0, 0)
      @served.sessions.user_of("")
      @served.attempts.find(0)
    end

    def work_at(station)
      row = @stores.stations.find(@teacher, @stores.stations.create(@teacher, station.to_yaml))
      attempts = (1..BENCHES).map do |seed|
        @stores.attempts.create(station_row: row, instructor: @teacher, trainee: @tester, mode: "exam", seed: seed)
      end
      attempts.flat_map { |attempt| begin_at(attempt) } + test(attempts.last)
    end

    def begin_at(attempt) =
      [ask("POST", "/attempts/#{attempt.id}/begin"), ask("GET", "/attempts/#{attempt.id}/bench")]

    # What an expert does there, without the waits.
    def test(attempt)
      log = Nurv::Expert::Truth.of(attempt.variant, attempt.station.procedures.first).run.log
      log.reject { |action| action.kind == :submit }.each_with_index.flat_map do |action, seq|
        fields = action.to_h.except(:at_ms, :id).merge(action_id: "warm-#{seq}", seq: seq, seen_ms: 0)
        [
          ask("POST", "/attempts/#{attempt.id}/actions", fields),
          ask("GET", "/attempts/#{attempt.id}/frames?seq=#{seq + 1}")
        ]
      end
    end

    # Past what lies before the routes: everybody's first request has been through that.
    def ask(method, path, fields = {})
      form = fields.to_h { |name, value| [name.to_s, value.to_s] }
      env = Rack::MockRequest.env_for(path, method: method, params: form)
      env["rack.session"] = @session
      env["rack.session.options"] = {}
      @app.new!.call!(env).first
    end
  end
end
