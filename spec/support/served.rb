# frozen_string_literal: true

require "net/http"

# A server of its own process, which can be killed.
module Served
  ROOT = File.expand_path("../..", __dir__)

  # @param port [Integer] on this machine
  # @param environment [Hash{String => String}] settings besides
  # @return [Integer] its process, once it answers
  def self.start(port, **environment)
    settings = {"PORT" => port.to_s, "WEB_CONCURRENCY" => "0", **environment.transform_keys(&:to_s)}
    puma = %w[bundle exec puma -C config/puma.rb config.ru]
    pid = Process.spawn(settings, *puma, chdir: ROOT, out: File::NULL, err: File::NULL)
    400.times do
      Net::HTTP.get_response(URI("http://127.0.0.1:#{port}/help"))
      return pid
    rescue SystemCallError
      sleep 0.2
    end
    raise "the server did not start"
  end
end
