# frozen_string_literal: true

source "https://rubygems.org"

ruby ">= 3.1"

gem "sinatra", "4.2.1"
gem "puma", "8.0.2"
gem "erubi", "1.13.1"
gem "sequel", "5.110.0"
gem "sqlite3", "2.8.1" # the last for Ruby 3.1
gem "rack-session", "2.1.2"
gem "bcrypt", "3.1.22"
gem "zeitwerk", "2.6.18" # the last for Ruby 3.1
gem "tzinfo", "2.0.6"
gem "tzinfo-data", "1.2025.2"
gem "prawn", "2.5.0"
gem "prawn-table", "0.2.2"
gem "rqrcode", "3.1.1"
gem "i18n", "1.15.2"
gem "dry-schema", "1.13.4" # the last line for Ruby 3.1

group :development, :test do
  gem "nokogiri", "1.17.2" # the last that installs without compiling on Debian's RubyGems
  gem "rspec", "~> 3.13.2"
  gem "parallel_tests", "4.10.1" # the last line for Ruby 3.1
  gem "rack-test", "2.3.0"
  gem "capybara", "3.40.0"
  gem "cuprite", "0.19"
  gem "simplecov", "0.22.0"
  gem "standard", "1.57.0"
  gem "herb", "0.9.7"
end
