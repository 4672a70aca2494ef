# frozen_string_literal: true

require "stringio"

module Web
  module Middleware
    # Measures what comes in before anything looks at it, and refuses what no page of ours sends: too much, cut off,
    # or not text.
    class Measure
      KB = 1024
      DEFAULT = 512 * KB
      # A form with a file in it.
      LARGER = {
        %r{\A/classes/import\z} => 80 * KB * KB,
        %r{\A/stations/import\z} => 2 * KB * KB,
        %r{\A/classes/\d+/roster\z} => 2 * KB * KB
      }.freeze
      MOST_PATH = 2_000

      def initialize(app)
        @app = app
      end

      def call(env)
        if "#{env["PATH_INFO"]}#{env["QUERY_STRING"]}".bytesize > MOST_PATH * 2
          return refused(414, "That address is too long.")
        end
        unless readable?(Rack::Utils.unescape_path(env["PATH_INFO"].to_s))
          return refused(400, "That address cannot be read.")
        end

        most = LARGER.find { |pattern, _| env["PATH_INFO"].match?(pattern) }&.last || DEFAULT
        return refused(413, "That is more than this page takes (#{most / KB} kB).") if too_much?(env, most)
        return refused(400, "What was sent cannot be read as text.") unless all_text?(Rack::Request.new(env).params)

        env["nurv.read"] = true
        @app.call(env)
      rescue Rack::BadRequest,
        Rack::QueryParser::QueryLimitError,
        EOFError,
        EncodingError,
        ArgumentError,
        RangeError => error
        # Only what was raised while it was read: an error of the application's own goes on.
        raise if env["nurv.read"]

        refused(400, "What was sent cannot be read (#{error.class.name.split("::").last}).")
      end

      private

      # By what it says of itself, or by counting where it does not say.
      def too_much?(env, most)
        given = env["CONTENT_LENGTH"].to_s
        return given.to_i > most unless given.empty?
        return false unless env["rack.input"] && env["HTTP_TRANSFER_ENCODING"]

        text = env["rack.input"].read(most + 1).to_s
        env["rack.input"] = StringIO.new(text)
        env["CONTENT_LENGTH"] = text.bytesize.to_s
        text.bytesize > most
      end

      def readable?(text) = text.dup.force_encoding("UTF-8").valid_encoding? && !text.include?("\0")

      def all_text?(value)
        case value
        when Hash
          value.key?(:tempfile) || value.all? { |key, item| readable?(key.to_s) && all_text?(item) }
        when Array
          value.all? { |item| all_text?(item) }
        when String
          value.dup.force_encoding("UTF-8").valid_encoding?
        else
          true
        end
      end

      def refused(status, text) =
        [status, {"content-type" => "text/plain; charset=utf-8", "cache-control" => "no-store"}, ["#{text}\n"]]
    end
  end
end
