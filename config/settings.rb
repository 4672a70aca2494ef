# frozen_string_literal: true

require "fileutils"
require "securerandom"

# What the environment says, read once and checked as a whole.
class Settings
  KEYS = {
    "APP_ENV" => "development", "PORT" => "9292", "PUMA_THREADS" => "5", "WEB_CONCURRENCY" => "0", "APP_HTTPS" => "0",
    "NURV_DATABASE" => nil, "SESSION_SECRET" => nil
  }.freeze
  ROOT = File.expand_path("..", __dir__)

  attr_reader :env, :port, :threads, :workers, :https, :database, :session_secret

  # @raise [ArgumentError] listing every setting that cannot be used
  def initialize(environment = ENV)
    @problems = []
    @environment = environment
    @env = value("APP_ENV")
    @port = integer("PORT", 1..65_535)
    @threads = integer("PUMA_THREADS", 1..64)
    @workers = integer("WEB_CONCURRENCY", 0..16)
    @https = value("APP_HTTPS") == "1"
    @database = value("NURV_DATABASE") || File.join(ROOT, "var/#{@env}.sqlite3")
    @session_secret = secret
    raise ArgumentError, "Settings:\n  #{@problems.join("\n  ")}" if @problems.any?

    freeze
  end

  def production? = env == "production"

  private

  def value(key) = @environment.fetch(key, KEYS.fetch(key))

  def integer(key, range)
    number = Integer(value(key), exception: false)
    return number if number && range.cover?(number)

    @problems << "#{key} should be a whole number from #{range.begin} to #{range.end}, not #{value(key).inspect}"
    nil
  end

  # From the environment, or made once and kept beside the database.
  def secret
    given = value("SESSION_SECRET")
    if given
      @problems << "SESSION_SECRET should be at least 64 characters" if given.length < 64
      return given
    end
    path = File.join(File.dirname(@database), "session_secret")
    FileUtils.mkdir_p(File.dirname(path))
    File.open(path, File::RDWR | File::CREAT, 0o600) do |file|
      file.flock(File::LOCK_EX)
      text = file.read
      next text if text.length >= 64

      SecureRandom.hex(64).tap { |fresh| file.write(fresh) }
    end
  end
end
