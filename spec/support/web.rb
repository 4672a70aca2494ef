# frozen_string_literal: true

require "spec_helper"
require "tmpdir"
require "rack/test"

ENV["NURV_DATABASE"] ||= File.join(Dir.mktmpdir("nurv"), "test.sqlite3")
require_relative "../../config/boot"

# A clean database before each example that touches the web.
module CleanDatabase
  TABLES = %i[
    overrides
    grades
    snapshots
    events
    drill_tries
    predictions
    drill_sets
    board_answers
    board_questions
    boards
    attempts
    exam_stations
    exams
    policies
    overlays
    adopted_procedures
    proofs
    own_facts
    catalogs
    members
    newcomers
    classes
    stations
    audits
    tries
    jobs
    sessions
    users
  ].freeze

  def self.clean
    TABLES.each { |table| DB[table].delete }
    KEEPER.forget_all
    FileUtils.rm_rf(Work::Files.folder)
    Clock.source = nil
    WorkFirst.late_s = nil
    WorkFirst.left_alone = nil
  end
end

# What is kept, and the benches at work, as the application has them.
module Kept
  def stores = STORES

  def keeper = KEEPER

  def demo = Benches::Demo.new(stores, keeper)
end

# People and benches for specs of the web.
module People
  include Kept

  def make_instructor(login = "ines") =
    stores.users.create(role: "instructor", name: login.capitalize, login: login, password: "correct horse")

  def make_trainee(login = "teo") =
    stores.users.create(role: "trainee", name: login.capitalize, login: login, password: "1234")

  # @param changes [Hash] of the station that ships with this id
  def make_station(instructor, id = :bottle_rinser, **changes)
    usual = SHIPPED.demo_stations.find { |item| item.id == id }
    station = Nurv::Stations::Station.new(Nurv::Facts.of({**usual.data, **changes}), SHIPPED)
    rows = stores.stations
    rows.find(instructor, rows.create(instructor, station.to_yaml))
  end

  def make_attempt(instructor, trainee, mode: "exam", station: :bottle_rinser, seed: 1, **changes)
    stores.attempts.create(
      station_row: make_station(instructor, station, **changes),
      instructor: instructor,
      trainee: trainee,
      mode: mode,
      seed: seed
    )
  end

  def make_class(instructor, *trainees, name: "Spring testers")
    courses = stores.classes
    courses.create(instructor, name).tap { |course| trainees.each { |trainee| courses.add(course, trainee) } }
  end

  # A draft of an exam over stations of the demo.
  def make_exam(instructor, course, *stations, **policy)
    rows = stations.map { |id| make_station(instructor, id) }
    shipped = SHIPPED.policies.fetch(:standard)
    stores.exams.create(
      instructor,
      course,
      title: "Spring exam",
      policy: Nurv::Grading::Policy.new({**shipped.data, **policy}),
      shuffled: false,
      seed: 5,
      stations: rows.map { |row| {station_id: row.id, title: row.title, body: row.body, pool: nil} }
    )
  end

  def begin_attempt(...)
    attempt = make_attempt(...)
    stores.attempts.begin(attempt, Clock.wall_ms)
  end
end

# Does the work that waits before each request is answered: the second process of a server, without its haste.
class WorkFirst
  class << self
    # Seconds by which a poll is looked at late, as on a bad line; and whether work is left to the spec, which does it
    # where nothing waits for an answer.
    attr_accessor :late_s, :left_alone
  end

  def initialize(app)
    @app = app
  end

  def call(env)
    sleep self.class.late_s if self.class.late_s && env["PATH_INFO"].end_with?("/frames")
    Work::Runner.new(STORES, KEEPER).work_off unless self.class.left_alone
    @app.call(env)
  end
end

# A clock that stands still until it is moved.
class SetClock
  attr_reader :now_ms

  def initialize(now_ms = Clock::REAL.call)
    @now_ms = now_ms
  end

  def call = now_ms

  def let_go_by(milliseconds) = @now_ms += milliseconds

  def set(now_ms) = @now_ms = now_ms
end

# Requests as a page of the application sends them.
module Requests
  include Rack::Test::Methods

  # Long work is done before each request, as the second process would have done it by then.
  APP = WorkFirst.new(Web::App)

  def app = APP

  # The page as a browser reads it: line breaks and indents are blanks.
  def html = last_response.body.gsub(/\s+/, " ")

  def wall_ms = Clock.wall_ms

  # Signs in, or with nobody named, out.
  def sign_in(login = nil, password = "correct horse")
    clear_cookies
    token = get("/sign-in").body[/name="authenticity_token" value="([^"]+)"/, 1]
    post "/sign-in", login: login, password: password, as: "instructor", authenticity_token: token if login
    @token = get("/help").body[/X-CSRF-Token":"([^"]+)"/, 1]
  end

  def send_form(path, **fields) = post(path, fields, "HTTP_X_CSRF_TOKEN" => @token)
end

RSpec.configure do |config|
  config.include People, :web
  config.before(:each, :web) { CleanDatabase.clean }
end
