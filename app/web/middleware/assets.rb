# frozen_string_literal: true

require "digest"
require "rack/files"

module Web
  module Middleware
    # Styles, scripts and letters, under a path that changes when one of them does: a browser may keep them for ever,
    # and never has those of another version beside each other.
    class Assets
      ROOT = File.expand_path("../../../public", __dir__)
      VERSION = Dir[File.join(ROOT, "**/*")]
        .select { |path| File.file?(path) }
        .sort
        .reduce(Digest::SHA256.new) { |digest, path| digest.update(path.delete_prefix(ROOT)).file(path) }
        .hexdigest[0, 12]
        .freeze
      PATH = %r{\A/a/([0-9a-f]{12})(/.+)\z}
      FOR_EVER = "public, max-age=31536000, immutable"
      # What browsers ask for by themselves, under a path that never changes.
      ICON = "/favicon.svg"
      FOR_AN_HOUR = "public, max-age=3600"

      # @param name [String] a file in public/, like "css/base.css"
      # @return [String] where it is now
      def self.path(name) = "/a/#{VERSION}/#{name}"

      # @param app [#call] what answers everything else
      def initialize(app)
        @app = app
        @files = Rack::Files.new(ROOT)
      end

      # A page from before an update asks for what is no longer there: it gets what is, and does not keep it.
      def call(env)
        return icon(env) if env["PATH_INFO"] == ICON

        version, file = env["PATH_INFO"].to_s.match(PATH)&.captures
        return @app.call(env) unless file

        status, headers, body = @files.call(env.merge("PATH_INFO" => file))
        kept = status < 400 && version == VERSION
        [status, headers.merge("cache-control" => kept ? FOR_EVER : "no-cache"), body]
      end

      private

      def icon(env)
        status, headers, body = @files.call(env)
        [status, headers.merge("cache-control" => FOR_AN_HOUR), body]
      end
    end
  end
end
