# frozen_string_literal: true

require "rack/protection"

module Web
  module Middleware
    # Rack's guard against forms that are sent from elsewhere. What it works out of a session's secret is the same with
    # every act at a bench, and is kept for a while.
    class Token < Rack::Protection::AuthenticityToken
      KEPT = Recent.new(1_000)
      private_constant :KEPT

      # An address ends up in histories and logs: a token in one proves nothing.
      def accepts?(env) = !Rack::Request.new(env).GET.key?(options[:authenticity_param]) && super

      private

      def global_token(session) = KEPT.fetch(session[options[:key]]) { super }
    end
  end
end
