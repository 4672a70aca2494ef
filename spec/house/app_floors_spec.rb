# frozen_string_literal: true

require "support/web"

# Around the core: rows, benches at work, long work, paper, and the web with floors of its own.
RSpec.describe "The floors of the application" do
  floors = %w[
    clock
    local_time
    recent
    bench_clock
    store
    benches
    pdf
    work
    web/doors
    web/forms
    web/screens
    web/middleware
    web/helpers
    web/polls
    web/warm_up
    web/routes
    web/app
  ].freeze
  root = File.expand_path("../../app", __dir__)
  files = Dir[File.join(root, "**/*.rb")].reject { |path| path.include?("/migrations/") }

  # A file that stands alone is a floor; so is a folder.
  floor_of = lambda do |path|
    short = path.delete_prefix("#{root}/").delete_suffix(".rb")
    floors.find { |floor| short == floor || (floor != "web" && short.start_with?("#{floor}/")) }
  end

  it "are all known here" do
    expect(files.reject(&floor_of)).to eq([])
  end

  it "name none above them" do
    upward =
      files
        .flat_map { |path| House.new(path).names }
        .filter_map do |name|
          other = floor_of.call(Object.const_source_location(name.full || "Object")&.first.to_s)
          own = floor_of.call(name.path)
          next unless other && floors.index(other) > floors.index(own)

          "#{own} names #{other}: #{name.full} in #{name.path}:#{name.line}"
        end
    expect(upward).to eq([])
  end

  # They are handed on from where the application is put together.
  it "reach for no database, catalogue or benches of their own" do
    globals = /\b(DB|CATALOG|STORES|KEEPER)\b/
    reaching = files.reject { |path| path.end_with?("/web/app.rb") }.select { |path| File.read(path).match?(globals) }
    expect(reaching).to eq([])
  end
end
