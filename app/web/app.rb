# frozen_string_literal: true

require "sinatra/base"
require "rack/session"
require "rack/protection"
require "rack/attack"
require "json"
require "tzinfo"
require "securerandom"

module Web
  # The web application: sessions, protection, and the routes by area.
  class App < Sinatra::Base
    set :root, SETTINGS.class::ROOT
    set :views, File.join(SETTINGS.class::ROOT, "app/views")
    set :environment, SETTINGS.env.to_sym
    set :static, false
    set :erb, escape_html: true
    set :show_exceptions, false
    set :raise_errors, SETTINGS.env == "test"
    set :host_authorization, {permitted_hosts: []}
    set :sessions, false
    set :protection, false

    if SETTINGS.production?
      Rack::Attack.cache.store = Store::Throttle.new
      Rack::Attack.throttle("sign-ins by address", limit: 30, period: 60) { |request| request.ip if request.post? && request.path == "/sign-in" }
      Rack::Attack.throttle("sign-ins by name", limit: 8, period: 60) do |request|
        request.params["login"].to_s.downcase[0, 60] if request.post? && request.path == "/sign-in"
      end
      # A class code and a name are known to many; a PIN must not be guessed.
      Rack::Attack.throttle("joining by address", limit: 40, period: 60) { |request| request.ip if request.post? && request.path == "/join" }
      Rack::Attack.throttle("joining by name", limit: 8, period: 60) do |request|
        "#{request.params["code"]}/#{request.params["name"]}".downcase[0, 90] if request.post? && request.path == "/join"
      end
      Rack::Attack.throttled_responder = ->(_request) { [429, {"content-type" => "text/plain"}, ["Too many tries. Wait a minute, then try again.\n"]] }
      use Rack::Attack
    end
    use Rack::Session::Cookie, key: "nurv.session", same_site: :lax, httponly: true, secure: SETTINGS.https,
      expire_after: 60 * 60 * 12, secrets: [SETTINGS.session_secret]
    use Rack::Protection::ContentSecurityPolicy, default_src: "'none'", script_src: "'self'", style_src: "'self'",
      img_src: "'self' data:", font_src: "'self'", connect_src: "'self'", form_action: "'self'", base_uri: "'none'",
      frame_ancestors: "'none'"
    use Rack::Protection::XSSHeader
    use Rack::Protection::FrameOptions
    use Rack::Protection::AuthenticityToken

    helpers Helpers::Access, Helpers::Pages, Helpers::Clock, Helpers::Benches, Helpers::Teaching
    register Routes::Sessions, Routes::Classes, Routes::Builder, Routes::Stations, Routes::Exams, Routes::Attempts, Routes::Benches, Routes::Reviews, Routes::Records,
      Routes::Proctors, Routes::Settings, Routes::Labs, Routes::Pages

    not_found { page :"shared/message", title: "Not here", text: "There is no such page, or it is not yours to see." }

    error Nurv::SolverError do
      status 500
      page :"shared/message", title: "The bench stopped", text: "The simulation could not go on. Your work up to here is kept."
    end

    error do
      page :"shared/message", title: "Something went wrong", text: "Nothing that was saved is lost. Go back and try again."
    end
  end
end
