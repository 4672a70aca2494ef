# frozen_string_literal: true

# The gems this runs with. Those of the tests are asked for only by the tests, which run under bundle exec, so that a
# machine set up by bin/demo or bin/serve alone can use every command.
ENV["BUNDLE_GEMFILE"] ||= File.expand_path("../Gemfile", __dir__)
begin
  require "bundler"
  # With Bundler itself in charge (bundle exec) the choice is made already.
  Bundler.setup(:default) unless ENV["RUBYOPT"].to_s.include?("bundler/setup")
rescue LoadError, Bundler::BundlerError => error
  warn "Nurv's gems are not installed here: run bin/demo or bin/serve once, they install what is missing. " \
         "(#{error.message.lines.first.to_s.strip})"
  exit 1
end
