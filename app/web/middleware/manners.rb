# frozen_string_literal: true

module Web
  module Middleware
    # Headers of every page: nothing of it is kept by browsers and proxies, nothing of its address is told to others.
    class Manners
      HEADERS = {
        "cache-control" => "no-store",
        "referrer-policy" => "same-origin",
        "x-content-type-options" => "nosniff"
      }.freeze
      HTTPS = {"strict-transport-security" => "max-age=31536000"}.freeze

      # @param https [Boolean] it is reached by HTTPS alone
      def initialize(app, https:)
        @app = app
        @headers = https ? {**HEADERS, **HTTPS} : HEADERS
      end

      def call(env)
        status, headers, body = @app.call(env)
        @headers.each { |name, value| headers[name] ||= value }
        [status, headers, body]
      end
    end
  end
end
