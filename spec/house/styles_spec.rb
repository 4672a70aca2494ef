# frozen_string_literal: true

# A class of a style is one thing: it is begun in one file, and whatever refines it elsewhere says where.
RSpec.describe "The styles" do
  folder = File.expand_path("../..", __dir__)
  sheets = Dir[File.join(folder, "public/css/*.css")].sort

  # Selectors that are a class alone, by themselves or in a list: what it is.
  begun = lambda do |path|
    text = File.read(path).gsub(%r{/\*.*?\*/}m, "").gsub(/@media[^{]*\{/, "")
    text.scan(/([^{}]+)\{/).flatten.flat_map { |list| list.split(",") }.filter_map { |one|
      one.strip[/\A\.([a-z][\w-]*)\z/, 1]
    }.uniq
  end

  it "begin each class in one file" do
    files = sheets.flat_map { |path| begun.call(path).map { |name| [name, File.basename(path)] } }
    twice = files.group_by(&:first).transform_values { |list| list.map(&:last) }.select { |_, list| list.size > 1 }
    expect(twice).to eq({})
  end

  it "name classes that some page, screen or script has" do
    sources = Dir[File.join(folder, "{app,public/js,lib}/**/*.{erb,rb,js}")].map { |path| File.read(path) }.join("\n")
    library = File.read(File.join(folder, "public/vendor/bootstrap.min.css"))
    unused = sheets.flat_map { |path| begun.call(path) }.uniq.reject do |name|
      # Some are put together: flow-drip, state-open.
      stem = name[/\A.*-/]
      sources.match?(/(?<![\w-])#{Regexp.escape(name)}(?![\w-])/) || library.include?(".#{name}") ||
        (stem && sources.match?(/(?<![\w-])#{Regexp.escape(stem)}(?:<%|#\{|\$\{)/)) || sources.include?("\"#{stem}\"")
    end
    expect(unused).to eq([])
  end
end
