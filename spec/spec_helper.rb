# frozen_string_literal: true

ENV["APP_ENV"] = "test"
# Servers that specs start: what they do before anybody comes takes longer than what is asked of them.
ENV["NURV_WARM_UP"] ||= "0"
$LOAD_PATH.unshift File.expand_path("../lib", __dir__)
require "nurv"
Dir[File.join(__dir__, "support/core/*.rb")].sort.each { |file| require file }

RSpec.configure do |config|
  config.expect_with(:rspec) { |expectations| expectations.syntax = :expect }
  config.disable_monkey_patching!
  config.include BenchWork
  # What bin/test runs once more.
  config.example_status_persistence_file_path = ENV["NURV_EXAMPLES"] if ENV["NURV_EXAMPLES"]
end
