# frozen_string_literal: true

require "rack/session"

module Web
  module Middleware
    # Rack's sealed cookie. What was unsealed once is kept by the cookie's whole text for a while: a bench sends the
    # same one every second, and unsealing costs more than all else that a poll asks of it.
    class SessionCookie < Rack::Session::Cookie
      MOST = 1_000

      def initialize(app, options = {})
        super
        @opened = Recent.new(MOST)
      end

      private

      # @return [Hash] of this request's own: it is written to
      def unpacked_cookie_data(request)
        request.fetch_header(Rack::Session::RACK_SESSION_UNPACKED_COOKIE_DATA) do |header|
          text = request.cookies[@key]
          known = text && @opened[text]
          next request.set_header(header, known.dup) if known

          # Only what a seal of ours was found on; anything else is an empty session, each time anew.
          super(request).tap { |data| @opened.keep(text, data.dup.freeze) if text && data.any? }
        end
      end
    end
  end
end
