# frozen_string_literal: true

require "open3"
require "socket"

# Two machines on this one: network namespaces joined by a cable, the server in one, a browser in the other. Where
# they cannot be made, the same machine under another name.
class TwoMachines
  SERVER = "10.213.77.1"
  TABLET = "10.213.77.2"
  ROOT = File.expand_path("../..", __dir__)

  # @return [Boolean] whether this machine lets us make namespaces
  def self.possible?
    return @possible if defined?(@possible)

    name = "nurv-try-#{Process.pid}"
    @possible = Process.uid.zero? && quiet("ip", "netns", "add", name) && quiet("ip", "netns", "del", name)
  end

  def self.quiet(*command) = system(*command, out: File::NULL, err: File::NULL) || false

  attr_reader :note

  def initialize
    @pids = []
    @mark = Process.pid.to_s(36)
    if self.class.possible?
      lay_cable
      @note = "two network namespaces"
    else
      @note = "no network namespaces here: the same machine under another name"
    end
  end

  def apart? = self.class.possible?

  # The name or address a tablet types.
  def host = apart? ? SERVER : "classroom.test"

  # Runs something beside the server, or on the tablet's machine.
  def at_server(environment, *command) = start(course("server"), environment, command)

  # @return [Array(String, Process::Status)] what it said, and how it ended
  def at_tablet(environment, *command)
    Open3.capture2e(environment.transform_keys(&:to_s), *course("tablet"), *command, chdir: ROOT)
  end

  # Flags a browser on the tablet needs.
  def browser_flags = apart? ? {} : {"host-resolver-rules" => "MAP classroom.test 127.0.0.1"}

  def take_down
    @pids.reverse_each do |pid|
      Process.kill(:TERM, pid)
      Process.wait(pid)
    rescue Errno::ESRCH, Errno::ECHILD
      nil
    end
    %w[server tablet].each { |side| self.class.quiet("ip", "netns", "del", name(side)) } if apart?
  end

  private

  def name(side) = "nurv-#{side}-#{@mark}"

  def course(side) = apart? ? ["ip", "netns", "exec", name(side)] : []

  def start(course, environment, command)
    @pids << Process.spawn(
      environment.transform_keys(&:to_s),
      *course,
      *command,
      chdir: ROOT,
      out: File::NULL,
      err: File::NULL
    )
    @pids.last
  end

  def lay_cable
    ends = {"server" => SERVER, "tablet" => TABLET}
    ends.each_key { |side| run("ip", "netns", "add", name(side)) }
    run(
      "ip",
      "link",
      "add",
      "nvs#{@mark}",
      "netns",
      name("server"),
      "type",
      "veth",
      "peer",
      "name",
      "nvt#{@mark}",
      "netns",
      name("tablet")
    )
    ends.each do |side, address|
      device = "nv#{side[0]}#{@mark}"
      run("ip", "-n", name(side), "addr", "add", "#{address}/24", "dev", device)
      [device, "lo"].each { |link| run("ip", "-n", name(side), "link", "set", link, "up") }
    end
  end

  def run(*command)
    output, status = Open3.capture2e(*command)
    raise "#{command.join(" ")}: #{output}" unless status.success?
  end
end
