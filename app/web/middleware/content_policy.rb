# frozen_string_literal: true

require "rack/protection"

module Web
  module Middleware
    # Rack's header for what a page may load. It says the same on every page, and is put together once.
    class ContentPolicy < Rack::Protection::ContentSecurityPolicy
      def csp_policy = @csp_policy ||= super.freeze
    end
  end
end
