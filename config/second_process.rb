# frozen_string_literal: true

# The second process, for long work: started and stopped with the server, started again if it dies.
module SecondProcess
  PAUSE_S = 2

  module_function

  def start
    DB.disconnect
    @stopping = false
    @watch =
      Thread.new do
        until @stopping
          @pid =
            Process.spawn(
              {"NURV_SERVER_PID" => Process.pid.to_s},
              RbConfig.ruby,
              File.expand_path("worker.rb", __dir__)
            )
          Process.wait(@pid)
          sleep PAUSE_S unless @stopping
        end
      end
  end

  def stop
    @stopping = true
    return unless @pid

    Process.kill(:TERM, @pid)
    @watch&.join(20)
  rescue Errno::ESRCH
    nil
  end
end
