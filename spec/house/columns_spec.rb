# Readable beats short: a line that has to be scrolled for is not read. Held here for every kind of file we write.
RSpec.describe "The width of a line" do
  root = File.expand_path("../..", __dir__)
  written = Dir.glob("{app,bin,config,data,deploy,lib,public/css,public/js,spec}/**/*", base: root)
    .select { |path| File.file?(File.join(root, path)) }
    .reject { |path| path.include?("/vendor/") || path.start_with?("spec/fixtures") }
  kinds = {
    "Ruby" => /\.(rb|ru|rake)\z/,
    "commands" => %r{\Abin/[^.]+(\.sh)?\z},
    "views" => /\.erb\z/,
    "data" => /\.yml\z/,
    "configurations" => %r{\Adeploy/},
    "styles" => /\.css\z/,
    "scripts of the page" => /\.js\z/
  }

  kinds.each do |kind, pattern|
    it "is 120 columns at most in #{kind}" do
      files = written.grep(pattern)
      expect(files).not_to be_empty
      long = files.flat_map do |path|
        File.readlines(File.join(root, path), chomp: true).each.with_index(1)
          .filter_map { |line, number| "#{path}:#{number} (#{line.length})" if line.length > 120 }
      end
      expect(long).to be_empty, long.join("\n")
    end
  end
end
