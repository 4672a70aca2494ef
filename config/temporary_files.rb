# frozen_string_literal: true

require "fileutils"

# Where uploads lie while they are read: a folder of this server's own beside its data, so that the next start can
# clear away what a killed server left.
module TemporaryFiles
  module_function

  # @param home [String] the server's folder
  # @return [String] the folder for this process and those it starts
  def prepare(home)
    all = File.join(home, "uploads")
    own = File.join(all, Process.pid.to_s)
    FileUtils.mkdir_p(own, mode: 0o700)
    Dir.children(all).each { |name| FileUtils.rm_rf(File.join(all, name)) unless alive?(name) }
    ENV["TMPDIR"] = own
  end

  # Takes the folder away when the server ends by itself.
  def remove(home) = FileUtils.rm_rf(File.join(home, "uploads", Process.pid.to_s))

  def alive?(name)
    pid = Integer(name, 10, exception: false)
    return false unless pid

    Process.kill(0, pid)
    true
  rescue Errno::ESRCH
    false
  rescue Errno::EPERM
    true
  end
end
