# frozen_string_literal: true

require_relative "boot"

threads SETTINGS.threads, SETTINGS.threads
bind "tcp://127.0.0.1:#{SETTINGS.port}"
environment SETTINGS.env
quiet
if SETTINGS.workers.positive?
  workers SETTINGS.workers
  preload_app!
  before_fork { DB.disconnect }
end
