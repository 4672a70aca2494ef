# frozen_string_literal: true

require "open3"

# The core is a house: each floor may name those below it, and none above.
RSpec.describe "The floors of the core" do
  floors = %w[
    remark
    errors
    units
    written
    facts
    shapes
    hydraulics
    equipment
    procedures
    reports
    stations
    bench
    expert
    grading
    fairness
    teaching
    words
    catalog
    command_line
  ].freeze
  root = File.expand_path("../../lib", __dir__)
  files = Dir[File.join(root, "nurv/**/*.rb")].sort

  before(:all) { Nurv::Loader.eager_load }

  # The floor that a file or a constant lives on.
  floor_of_file = ->(path) { path.delete_prefix("#{root}/nurv/").delete_suffix(".rb").split("/").first }
  floor_of_name = lambda do |name|
    where = Object.const_source_location(name)&.first.to_s
    floor_of_file.call(where) if where.start_with?("#{root}/nurv/")
  end
  upward = lambda do |names|
    names.filter_map do |name|
      own, other = floor_of_file.call(name.path), name.full && floor_of_name.call(name.full)
      next unless other && floors.index(other) > floors.index(own)

      "#{own} names #{other}: #{name.full} in #{name.path.delete_prefix("#{root}/")}:#{name.line}"
    end
  end

  it "are all known here" do
    expect(files.map(&floor_of_file).uniq - floors).to eq([])
  end

  it "name none above them, and nothing that is not there" do
    names = files.flat_map { |path| House.new(path).names }
    expect(names.reject(&:full).map { |name| "#{name.path}:#{name.line} #{name.written}" }).to eq([])
    expect(upward.call(names)).to eq([])
  end

  it "are told of a line in the cellar that names the attic" do
    path = File.join(root, "nurv/hydraulics/passage.rb")
    bent = File.read(path).sub("module Hydraulics\n", "module Hydraulics\n    RULES = Grading::Grader::RULES\n")
    expect(upward.call(House.new(path, bent).names)).to contain_exactly(
      a_string_matching(%r{hydraulics names grading: Nurv::Grading::Grader::RULES in nurv/hydraulics/passage.rb:\d+})
    )
  end

  it "load without the web or a database" do
    script = 'require "nurv"; Nurv::Loader.eager_load; ' \
      "puts $LOADED_FEATURES.grep(%r{/(sinatra|rack|sequel|sqlite3|erubi)[/.]})"
    output, status = Open3.capture2e(RbConfig.ruby, "-I#{root}", "-e", script)
    expect(status).to be_success, output
    expect(output).to be_empty
  end
end
