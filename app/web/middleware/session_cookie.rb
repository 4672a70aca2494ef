# frozen_string_literal: true

require "rack/session"

module Web
  module Middleware
    # Rack's sealed cookie. What was unsealed once is kept for a while, by the whole text that a browser sends: a bench
    # sends the same one every second, and reading and unsealing it cost more than all else that a poll asks of it.
    #
    # It is sealed and sent again when something in it has changed, and once a day, so that it lasts: sealed with every
    # answer it would be another text each time.
    class SessionCookie < Rack::Session::Cookie
      MOST = 1_000
      DAY_S = 86_400
      SEALED_ON = "sealed_on"

      def initialize(app, options = {})
        super
        @opened = Recent.new(MOST)
      end

      private

      def commit_session?(request, session, options) = super && (options[:renew] || !as_it_came?(request, session))

      def as_it_came?(request, session)
        came = request.get_header(Rack::Session::RACK_SESSION_UNPACKED_COOKIE_DATA)
        came && came[SEALED_ON] == today && came == session.to_hash
      end

      def write_session(request, id, session, options) = super(request, id, session.merge(SEALED_ON => today), options)

      # @return [Integer]
      def today = Clock.wall_ms / 1000 / DAY_S

      # @return [Hash] of this request's own: it is written to
      def unpacked_cookie_data(request)
        request.fetch_header(Rack::Session::RACK_SESSION_UNPACKED_COOKIE_DATA) do |header|
          text = request.get_header("HTTP_COOKIE")
          known = text && @opened[text]
          next request.set_header(header, known.dup) if known

          # Only what a seal of ours was found on; anything else is an empty session, each time anew.
          super(request).tap { |data| @opened.keep(text, data.dup.freeze) if text && data.any? }
        end
      end
    end
  end
end
