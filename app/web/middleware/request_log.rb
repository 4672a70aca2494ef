# frozen_string_literal: true

require "logger"

module Web
  module Middleware
    # A line for each request: when, who, what, how it ended, how long. Nothing that was sent, and no code of a class.
    class RequestLog
      SECRET = %r{\A/c/[^/]+}

      # A terminal shows what was announced there; the lines go into a file beside the data, which does not grow for
      # ever.
      def self.usual_place(home)
        return $stdout unless $stdout.tty?

        ::Logger.new(File.join(home, "nurv.log"), 5, 10 * 1024 * 1024, formatter: ->(_, _, _, text) { text })
      end

      def initialize(app, out: $stdout)
        @app = app
        @out = out
      end

      def call(env)
        began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        status, headers, body = @app.call(env)
        note(env, status, began)
        [status, headers, body]
      rescue => error
        note(env, error.class, began)
        raise
      end

      private

      def note(env, status, began)
        took_ms = ((Process.clock_gettime(Process::CLOCK_MONOTONIC) - began) * 1000).round
        path = env["PATH_INFO"].to_s.sub(SECRET, "/c/…").gsub(/[^[:graph:]]/, "?")[0, 120]
        at = Clock.now.strftime("%Y-%m-%dT%H:%M:%S.%LZ")
        @out << "#{at} user=#{env["nurv.user"] || "-"} #{env["REQUEST_METHOD"]} #{path} #{status} #{took_ms}ms\n"
      rescue SystemCallError, IOError
        # A log that cannot be written stops nobody's work.
        nil
      end
    end
  end
end
