# frozen_string_literal: true

require_relative "boot"
require_relative "second_process"
require_relative "announcement"
require_relative "temporary_files"

$stdout.sync = true
TemporaryFiles.prepare(SETTINGS.home)
# A door that is taken is said in a sentence.
begin
  TCPServer.new(SETTINGS.host, SETTINGS.port).close
rescue SystemCallError, SocketError => error
  warn "Nurv cannot start: it cannot listen on #{SETTINGS.host}, port #{SETTINGS.port} " \
         "(#{error.class.name.split("::").last}). Choose another with HOST or PORT."
  exit 1
end

threads SETTINGS.threads, SETTINGS.threads
# A browser that keeps its connection keeps the process that accepted it, and those that came in one breath may all have
# come to one. Now and then it comes in by the door again, where a process that has less to do is quicker.
max_keep_alive 60
bind "tcp://#{SETTINGS.host.include?(":") ? "[#{SETTINGS.host}]" : SETTINGS.host}:#{SETTINGS.port}"
environment SETTINGS.env
quiet
# What has begun is finished before a server stops.
force_shutdown_after 25
if SETTINGS.workers.positive?
  workers SETTINGS.workers
  preload_app!
  before_fork do
    DB.disconnect
    # What was made while starting is searched before anybody waits, and once for all.
    GC.start
  end
  before_worker_boot { Web::WarmUp.run(Web::App, CATALOG) if SETTINGS.warm_up? }
end

after_booted do
  SecondProcess.start if SETTINGS.worker?
  Web::WarmUp.run(Web::App, CATALOG) if SETTINGS.warm_up? && !SETTINGS.workers.positive?
  Announcement.new(SETTINGS).print if ENV["NURV_ANNOUNCE"]
end
after_stopped do
  SecondProcess.stop
  TemporaryFiles.remove(SETTINGS.home)
end
