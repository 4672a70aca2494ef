# frozen_string_literal: true

# The second process: grades, generates, exports, and looks at the clock. Ends with the server that started it.
require_relative "boot"

going = true
%i[TERM INT].each { |signal| trap(signal) { going = false } }
# Told by the server itself: it may be gone before this is up.
server = Integer(ENV.fetch("NURV_SERVER_PID", Process.ppid))
Process.setpriority(Process::PRIO_PROCESS, 0, 5)
Work::Runner.new(STORES, KEEPER).run { going && Process.ppid == server }
