# frozen_string_literal: true

require "fileutils"
require "ipaddr"
require "securerandom"
require "uri"

# What the environment says, read once and checked as a whole.
class Settings
  # A setting that cannot be used; says all that is wrong.
  class Wrong < ArgumentError
  end

  KEYS = {
    "APP_ENV" => "development",
    "HOST" => nil,
    "PORT" => "9292",
    "PUMA_THREADS" => "5",
    "WEB_CONCURRENCY" => "0",
    "APP_HTTPS" => "0",
    "NURV_HOME" => nil,
    "NURV_DATABASE" => nil,
    "SESSION_SECRET" => nil,
    "NURV_URL" => nil,
    "NURV_PROXY" => "",
    "NURV_WORKER" => nil,
    "NURV_WARM_UP" => "1"
  }.freeze
  ROOT = File.expand_path("..", __dir__)
  CENTRE = File.join(ROOT, "var/centre")
  DEMO = File.join(ROOT, "var/demo.sqlite3")

  attr_reader :env, :host, :port, :threads, :workers, :https, :home, :database, :url, :proxies

  # For the commands beside a server: the database named, or the centre's, or the demo's, whichever there is.
  #
  # @raise [Wrong]
  def self.for_commands(environment = ENV)
    return new(environment.to_h) if environment["NURV_DATABASE"] || environment["NURV_HOME"]

    centre = File.join(CENTRE, "nurv.sqlite3")
    new({**environment.to_h, "NURV_DATABASE" => File.exist?(centre) ? centre : DEMO})
  end

  # @raise [Wrong] listing every setting that cannot be used
  def initialize(environment = ENV)
    @problems = []
    @environment = environment
    @env = value("APP_ENV")
    @host = value("HOST") || (production? ? "0.0.0.0" : "127.0.0.1")
    @port = integer("PORT", 1..65_535)
    @threads = integer("PUMA_THREADS", 1..64)
    @workers = integer("WEB_CONCURRENCY", 0..16)
    @https = value("APP_HTTPS") == "1"
    @database =
      value("NURV_DATABASE") ||
      (value("NURV_HOME") ? File.join(value("NURV_HOME"), "nurv.sqlite3") : File.join(ROOT, "var/#{@env}.sqlite3"))
    @home = File.dirname(File.expand_path(@database))
    @url = public_url
    @proxies = addresses("NURV_PROXY")
    if value("SESSION_SECRET") && value("SESSION_SECRET").length < 64
      @problems << "SESSION_SECRET should be at least 64 characters"
    end
    raise Wrong, @problems.join("; ") if @problems.any?

    freeze
  end

  def production? = env == "production"

  # What sessions are signed with: from the environment, or made once and kept beside the database.
  #
  # @return [String] of 64 characters or more
  # @raise [Wrong] if it cannot be kept
  def session_secret
    given = value("SESSION_SECRET")
    given || kept_secret
  end

  # Long work is done by a process of its own, except where a test does it itself.
  def worker? = (value("NURV_WORKER") || (production? ? "1" : "0")) == "1"

  # A server does a test at a bench of each kind before anybody comes.
  def warm_up? = value("NURV_WARM_UP") == "1"

  # @param remote [String] the address a request came from
  # @return [Boolean] it is a proxy of ours, whose word on who is behind it counts
  def proxy?(remote)
    address = IPAddr.new(remote)
    proxies.any? { |proxy| proxy.include?(address) }
  rescue IPAddr::Error
    false
  end

  private

  def value(key)
    given = @environment[key].to_s
    given.empty? ? KEYS.fetch(key) : given
  end

  def integer(key, range)
    number = Integer(value(key), 10, exception: false)
    return number if number && range.cover?(number)

    @problems << "#{key} should be a whole number from #{range.begin} to #{range.end}, not #{value(key).inspect}"
    nil
  end

  def addresses(key)
    value(key).to_s.split(/[\s,]+/).map { |text| IPAddr.new(text) }
  rescue IPAddr::Error
    @problems << "#{key} should be addresses like 127.0.0.1, not #{value(key).inspect}"
    []
  end

  # The address that people type, where the machine cannot know it: a name, or what a proxy listens on.
  def public_url
    given = value("NURV_URL") or return
    uri = URI.parse(given)
    return given.delete_suffix("/") if uri.is_a?(URI::HTTP) && uri.host

    @problems << "NURV_URL should be an address like http://bench.example, not #{given.inspect}"
    nil
  rescue URI::InvalidURIError
    @problems << "NURV_URL should be an address like http://bench.example, not #{given.inspect}"
    nil
  end

  def kept_secret
    FileUtils.mkdir_p(@home, mode: 0o700)
    File.open(File.join(@home, "session_secret"), File::RDWR | File::CREAT, 0o600) do |file|
      file.flock(File::LOCK_EX)
      text = file.read
      next text if text.length >= 64

      SecureRandom.hex(64).tap { |fresh| file.write(fresh) }
    end
  rescue SystemCallError => error
    raise Wrong,
      "the folder #{@home} cannot be written (#{error.class.name.split("::").last}); name another in NURV_HOME"
  end
end
