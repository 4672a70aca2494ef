# frozen_string_literal: true

require_relative "network"

# What is said once the server is up: where it is, who can sign in, and where it keeps everything.
class Announcement
  # @param settings [Settings]
  def initialize(settings, out: $stdout)
    @settings = settings
    @network = Network.new(settings)
    @out = out
  end

  def print
    @out.puts "", *lines.map { |line| "  #{line}".rstrip }, ""
    @out.flush
  end

  private

  def lines
    [
      "Nurv is at #{@network.own_url}#{" on this machine" unless @network.loopback?}",
      *elsewhere,
      "",
      *people,
      "Everything is kept in #{@settings.home}.",
      "Ctrl-C stops it."
    ]
  end

  def elsewhere
    return ["For this machine alone. HOST=0.0.0.0 lets tablets in the same network reach it."] if @network.loopback?

    [
      "From a tablet:   #{@network.urls.first || "this machine has no network address yet"}",
      *@network.urls.drop(1).map { |url| "           or:   #{url}" }
    ]
  end

  def people
    return demo_people if ENV["NURV_ANNOUNCE"] == "demo"

    code = STORES.setup_code.current or return []
    ["Nobody is here yet. The first account is made with this set-up code, once:   #{code}", ""]
  end

  def demo_people
    instructor = Benches::Demo::INSTRUCTOR
    trainees = Benches::Demo::TRAINEES.first(3).map { |name, _, pin| "Trainee      #{name.ljust(14)}#{pin}" }
    ["Instructor   #{instructor[:login].ljust(14)}#{instructor[:password]}", *trainees, ""]
  end
end
