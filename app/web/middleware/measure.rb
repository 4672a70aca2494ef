# frozen_string_literal: true

require "stringio"

module Web
  module Middleware
    # Measures what comes in before anything looks at it, and refuses what no page of ours sends: too much, cut off,
    # or not text.
    #
    # A request with a larger file is read only for an instructor who is signed in, and what is forwarded is believed
    # only of a proxy of ours.
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
      FORWARDED = %w[
        HTTP_FORWARDED
        HTTP_X_FORWARDED_HOST
        HTTP_X_FORWARDED_PORT
        HTTP_X_FORWARDED_PROTO
        HTTP_X_FORWARDED_SCHEME
        HTTP_X_FORWARDED_SSL
      ].freeze
      # A name or an address, and a port.
      HOST = /\A(?:[a-z0-9]([a-z0-9.-]{0,252}[a-z0-9])?|\[[0-9a-f:.]{2,45}\])(?::\d{1,5})?\z/i

      # @param proxy [#call] whether an address is that of a proxy of ours
      # @param may_send_files [#call] whether a session, as a hash, is that of somebody who may send larger files
      def initialize(app, proxy:, may_send_files:)
        @app = app
        @proxy = proxy
        @may_send_files = may_send_files
      end

      def call(env)
        FORWARDED.each { |name| env.delete(name) } unless @proxy.call(env["REMOTE_ADDR"].to_s)
        return refused(400, "That host name cannot be read.") unless host?(env)

        if "#{env["PATH_INFO"]}#{env["QUERY_STRING"]}".bytesize > MOST_PATH * 2
          return refused(414, "That address is too long.")
        end
        unless readable?(Rack::Utils.unescape_path(env["PATH_INFO"].to_s))
          return refused(400, "That address cannot be read.")
        end

        most = most_for(env)
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

      def host?(env)
        [env["HTTP_HOST"], env["HTTP_X_FORWARDED_HOST"]].compact.all? { |name| name.empty? || name.match?(HOST) }
      end

      def most_for(env)
        larger = LARGER.find { |pattern, _| env["PATH_INFO"].match?(pattern) }&.last
        return DEFAULT unless larger

        @may_send_files.call(env["rack.session"]) ? larger : DEFAULT
      end

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
