# frozen_string_literal: true

require "spec_helper"
require "net/http"
require "socket"
require "tmpdir"

# Several servers behind the proxy that is shipped: whoever asks, and whenever, a bench is answered where it is warm.
RSpec.describe "A bench behind a proxy with several servers" do
  def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }

  # Answers everything with its own name.
  def server(name)
    listening = TCPServer.new("127.0.0.1", 0)
    thread = Thread.new do
      loop do
        client = listening.accept
        nil until client.gets.to_s.strip.empty?
        client.write("HTTP/1.1 200 OK\r\nContent-Length: #{name.size}\r\nConnection: close\r\n\r\n#{name}")
        client.close
      end
    rescue IOError
      nil
    end
    [listening, thread]
  end

  # As shipped, but on a plain port of this machine.
  def configuration(port) =
    File.read(File.expand_path("../../deploy/Caddyfile", __dir__))
      .sub(/^# Whoever types.*/m, "")
      .sub("https://{$NURV_NAME}:{$NURV_HTTPS_PORT:443}", "http://127.0.0.1:#{port}")
      .sub(/^\ttls .*$/, "")

  def ask(port, path) = Net::HTTP.get(URI("http://127.0.0.1:#{port}#{path}"))

  def wait_for(port)
    100.times do
      TCPSocket.new("127.0.0.1", port).close
      return
    rescue SystemCallError
      sleep 0.1
    end
    raise "the proxy did not start"
  end

  it "is always answered by the same one, and the benches are shared out among all" do
    skip "no Caddy on this machine" unless system("command -v caddy >/dev/null")

    servers = %w[one two three].map { |name| server(name) }
    behind = servers.map { |listening, _| "127.0.0.1:#{listening.addr[1]}" }.join(" ")
    port = free_port
    Dir.mktmpdir do |folder|
      path = File.join(folder, "Caddyfile")
      File.write(path, configuration(port))
      caddy =
        Process.spawn(
          {"NURV_BEHIND" => behind, "HOME" => folder, "XDG_DATA_HOME" => folder, "XDG_CONFIG_HOME" => folder},
          "caddy", "run", "--config", path, "--adapter", "caddyfile",
          out: File::NULL, err: File::NULL
        )
      wait_for(port)
      homes =
        (1..60).to_h do |id|
          paths = %w[bench frames?seq=4&shown=ab actions frames?seq=5&shown=cd start]
          [id, paths.map { |last| ask(port, "/attempts/#{id}/#{last}") }.uniq]
        end
      expect(homes.values.map(&:size).uniq).to eq([1])
      expect(homes.values.flatten.tally.values_at("one", "two", "three")).to all(be >= 5)
      expect((1..40).map { ask(port, "/work") }.uniq.size).to eq(3)
      # One goes: its benches are answered by the others, all else stays at home.
      servers.first.first.close
      later = homes.keys.to_h { |id| [id, ask(port, "/attempts/#{id}/bench")] }
      expect(later.values.uniq).to contain_exactly("two", "three")
      stayed = homes.reject { |_, names| names == ["one"] }
      expect(later.slice(*stayed.keys)).to eq(stayed.transform_values(&:first))
    ensure
      Process.kill(:TERM, caddy) if caddy
      Process.wait(caddy) if caddy
    end
  ensure
    servers&.each do |listening, thread|
      listening.close unless listening.closed?
      thread.kill
    end
  end
end
