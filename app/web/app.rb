# frozen_string_literal: true

require "sinatra/base"
require "rack/session"
require "rack/protection"
require "json"
require "tzinfo"
require "securerandom"

module Web
  # The web application: sessions, protection, and the routes by area.
  class App < Sinatra::Base
    set :stores, STORES
    set :keeper, KEEPER
    set :root, SETTINGS.class::ROOT
    set :views, File.join(SETTINGS.class::ROOT, "app/views")
    set :environment, SETTINGS.env.to_sym
    set :static, false
    set :erb, escape_html: true
    set :show_exceptions, false
    set :raise_errors, SETTINGS.env == "test"
    set :host_authorization, {permitted_hosts: []}
    set :sessions, false
    # Requests have a log of their own; Sinatra would make a logger for each of them.
    set :logging, nil
    set :protection, false
    # Redirects name no host, so a forged one leads nowhere.
    set :absolute_redirects, false

    use Middleware::RequestLog, out: Middleware::RequestLog.usual_place(SETTINGS.home) if SETTINGS.production?
    use Middleware::Manners, https: SETTINGS.https
    use Middleware::SessionCookie,
      key: "nurv.session",
      same_site: :lax,
      httponly: true,
      secure: SETTINGS.https,
      expire_after: 60 * 60 * 24 * 30,
      secrets: [SETTINGS.session_secret]
    use Middleware::Measure,
      proxy: ->(address) { SETTINGS.proxy?(address) },
      may_send_files: ->(session) { STORES.sessions.user_of(session["token"])&.instructor? }
    use Polls, stores: STORES, keeper: KEEPER, settings: self
    use Middleware::ContentPolicy,
      default_src: "'none'",
      script_src: "'self'",
      style_src: "'self'",
      img_src: "'self' data:",
      font_src: "'self'",
      connect_src: "'self'",
      form_action: "'self'",
      base_uri: "'none'",
      frame_ancestors: "'none'"
    use Rack::Protection::XSSHeader
    use Rack::Protection::FrameOptions
    use Middleware::Token

    helpers Helpers::Access,
      Helpers::Pages,
      Helpers::Doors,
      Helpers::Work,
      Helpers::Benches,
      Helpers::Teaching,
      Helpers::Practising,
      Helpers::Displays
    # Routes are tried in order, and what is asked most comes first.
    register Routes::Benches,
      Routes::Sessions,
      Routes::Sites,
      Routes::Classes,
      Routes::Builder,
      Routes::Stations,
      Routes::Exams,
      Routes::Rooms,
      Routes::Publishing,
      Routes::Attempts,
      Routes::Practising,
      Routes::Displays,
      Routes::Reviews,
      Routes::Records,
      Routes::Proctors,
      Routes::Jobs,
      Routes::Settings,
      Routes::Labs,
      Routes::Pages

    not_found { page :"shared/message", title: "Not here", text: "There is no such page, or it is not yours to see." }

    error Store::Attempts::Damaged do
      status 410
      page :"shared/message",
        title: "Cannot be read",
        text: "What is saved of this attempt is damaged. Nothing else is."
    end

    error Nurv::SolverError do
      status 500
      page :"shared/message",
        title: "The bench stopped",
        text: "The simulation could not go on. Your work up to here is kept."
    end

    # What cannot be saved says so where it was done, and keeps what was typed.
    error Sequel::DatabaseError do
      not_saved(env["sinatra.error"]) || page(
        :"shared/message",
        title: "Something went wrong",
        text: "Nothing that was saved is lost. Go back and try again."
      )
    end

    error do
      page :"shared/message",
        title: "Something went wrong",
        text: "Nothing that was saved is lost. Go back and try again."
    end
  end
end
