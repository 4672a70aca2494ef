# frozen_string_literal: true

module Web
  # A shortcut for what every bench asks every second: what comes next, at a bench that nobody else has touched. The
  # same questions are asked as by the route (who, whose bench, at work, in time), by the same stores; whoever is to
  # be told anything else goes on to it.
  class Polls
    PATH = %r{\A/attempts/(\d{1,15})/frames\z}
    HTML = {"content-type" => "text/html;charset=utf-8"}.freeze

    # @param stores [Store::Cabinet]
    # @param keeper [Benches::Keeper]
    # @param settings [Sinatra::Base] whose views are rendered
    def initialize(app, stores:, keeper:, settings:)
      @app = app
      @stores = stores
      @keeper = keeper
      @settings = settings
    end

    def call(env)
      number = (env["REQUEST_METHOD"] == "GET") && env["PATH_INFO"][PATH, 1]
      (number && answer(env, Integer(number, 10))) || @app.call(env)
    end

    private

    # @return [Array, nil] nil where it is for the route to say
    def answer(env, number)
      wall_ms = Clock.wall_ms
      visit = @stores.visits.at(env["rack.session"]["token"], number, wall_ms)
      return unless visit&.usual?(wall_ms)

      attempt = visit.attempt
      known = Rack::Request.new(env).GET
      screen = BenchScreen.live(attempt, wall_ms, @keeper, inside: known["inside"] == "1", eyes: true)
      return unless known["seq"] == screen.seq.to_s

      env["nurv.user"] = visit.user.id
      # Nothing of the session changes, so it need not be signed and sent again.
      env["rack.session.options"][:skip] = true
      @stores.attempts.saw(attempt, wall_ms, screen.needle_psid)
      return [204, {}, []] if screen.nothing_new?(known["shown"])

      [200, HTML.dup, [frames(screen)]]
    end

    def frames(screen) =
      Helpers::Pages.template(:"bench/_frames", @settings).render(Object.new, screen: screen, oob: false)
  end
end
