# frozen_string_literal: true

require "spec_helper"
require "tmpdir"

ENV["NURV_DATABASE"] ||= File.join(Dir.mktmpdir("nurv"), "test.sqlite3")
require_relative "../../config/boot"

# A clean database before each example that touches the web.
module CleanDatabase
  TABLES = %i[snapshots events attempts stations audits throttles users].freeze

  def self.clean
    TABLES.each { |table| DB[table].delete }
    Store::LiveBench.forget_all
  end
end

# People and benches for specs of the web.
module People
  def make_instructor(login = "ines") = Store::Users.new.create(role: "instructor", name: login.capitalize, login: login, password: "correct horse")

  def make_trainee(login = "teo") = Store::Users.new.create(role: "trainee", name: login.capitalize, login: login, password: "1234")

  def make_station(instructor, id = :bottle_rinser)
    station = Nurv::Catalog.default.demo_stations.find { |item| item.id == id }
    rows = Store::Stations.new
    rows.find(instructor, rows.create(instructor, station.to_yaml))
  end

  def make_attempt(instructor, trainee, mode: "exam", station: :bottle_rinser, seed: 1)
    Store::Attempts.new.create(station_row: make_station(instructor, station), instructor: instructor, trainee: trainee, mode: mode, seed: seed)
  end

  def begin_attempt(...)
    attempt = make_attempt(...)
    Store::Attempts.new.begin(attempt, Process.clock_gettime(Process::CLOCK_REALTIME, :millisecond))
  end
end

RSpec.configure do |config|
  config.include People, :web
  config.before(:each, :web) { CleanDatabase.clean }
end
