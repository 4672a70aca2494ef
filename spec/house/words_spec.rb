# frozen_string_literal: true

# The core speaks in ids and numbers; what people are told stands in data/words.
RSpec.describe "Words" do
  words = SHIPPED.words
  root = File.expand_path("../..", __dir__)
  remarks = YAML.safe_load_file("#{root}/data/words/en.yml").dig("en", "remarks")
  sources = Dir["#{root}/{lib,app}/**/*.rb"].to_h { |path| [path, File.read(path)] }

  # Symbols that are handed to whatever says something.
  said =
    sources.values.flat_map do |text|
      text.scan(/(?:Remark\.new|RefusedAction\.new|wrong)\(\s*:(\w+)/).flatten +
        text.scan(/\bnote\((?:"[^"\n]*"|[a-z]\w*), :(\w+)/).flatten +
        text.scan(/Remark\.new\((?:\w+\.)?(?:\w+|\w+\?) \? :(\w+) : :(\w+)\)/).flatten
    end

  it "are there for everything that the core says" do
    expect(said.uniq - remarks.keys).to eq([])
    expect(said.uniq.size).to be > 90
  end

  it "are of something that is said" do
    symbols = sources.values.flat_map { |text| text.scan(/:(\w+)/).flatten }.uniq
    never = remarks.keys.reject { |id| symbols.include?(id) || id.start_with?("expected_", "should_be_") }
    expect(never).to eq([])
  end

  it "are there for whatever a schema asks" do
    asked = Nurv::Shapes::Questions.singleton_methods(false).grep(/\?\z/).map { |name| name.to_s.delete_suffix("?") }
    wanted = (asked + %w[hash array min_size size]).map { |name| "should_be_#{name}" }
    expect(wanted - remarks.keys).to eq([])
    texts = YAML.safe_load_file("#{root}/lib/nurv/shapes/questions.yml").dig("en", "dry_schema", "errors").keys
    expect(texts.map { |name| name.delete_suffix("?") }).to match_array(asked)
  end

  it "are told of a remark with its names and numbers, and of one that has none" do
    remark = Nurv::Remark.new(:closed_fast, control: :low_bleed, turns_per_s: 2.514)
    expect(words.tell(remark)).to eq("Low bleed was snapped shut, at 2.5 turns a second.")
    expect(words.tell(Nurv::Remark.from(JSON.parse(remark.to_json, symbolize_names: true)))).to eq(words.tell(remark))
    expect { words.tell(Nurv::Remark.new(:no_such_thing)) }.to raise_error(KeyError, /no_such_thing/)
  end

  it "put what a person typed in as it was typed" do
    typed = "50 % {of} %{control} <b>"
    expect(words.tell(Nurv::Remark.new(:no_number, typed: typed))).to eq("“#{typed}” is not a number.")
  end

  it "say of every mistake what it is called and why it matters" do
    told = YAML.safe_load_file("#{root}/data/words/en.yml").dig("en", "mistakes")
    expect(told.keys.map(&:to_sym)).to match_array(SHIPPED.mistakes)
  end
end
