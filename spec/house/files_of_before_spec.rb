# frozen_string_literal: true

require "support/web"
require "zlib"

# Files that versions of November 2026 wrote: they are read, and come out with the marks, readings and moments that
# they had. All of them with NURV_ALL=1, a sample without.
RSpec.describe "Files of before", :web do
  folder = File.expand_path("../fixtures/of_2026_11", __dir__)
  sample = ->(list, every) { ENV["NURV_ALL"] ? list : list.each_slice(every).map(&:first) }
  facts = %w[section id points earned mistake at_s critical]
  marks = ->(grade) { grade.slice("procedure", "policy", "score", "pass", "failed_outright", "lines") }
  plain = ->(value) { JSON.parse(JSON.generate(value)) }

  it "hold stations that are good, to the last key" do
    paths = Dir[File.join(folder, "stations/*.yml")].sort
    expect(paths.size).to eq(23)
    paths.each do |path|
      station = Nurv::Stations::Station.read(path, SHIPPED)
      expect(Nurv::Stations::Station.parse(station.to_yaml, SHIPPED).data).to eq(station.data)
      expect(plain.call(station.data)).to eq(YAML.safe_load_file(path))
    end
  end

  it "tell the truth they told, by the same command with the same keys" do
    truths = JSON.parse(File.read(File.join(folder, "truths.json")))
    sample.call(truths.keys, 4).each do |name|
      out = StringIO.new
      Nurv::CLI.new(["truth", File.join(folder, "stations/#{name}.yml"), "--json"], catalog: SHIPPED, out: out).run
      # The water has been bettered since: a moment may come a twentieth of a second earlier or later, no reading.
      now = JSON.parse(out.string)
      expect(now.map { |truth| truth.except("seconds") }).to eq(truths[name].map { |truth| truth.except("seconds") }),
        name
      now.zip(truths[name]) { |one, other| expect(one["seconds"]).to be_within(0.05).of(other["seconds"]), name }
    end
  end

  it "are marked as they were" do
    kept = Zlib::GzipReader.open(File.join(folder, "grades.jsonl.gz")) { |file| file.each_line.to_a }
    expect(kept.size).to eq(128)
    sample.call(kept, 8).each do |text|
      before = JSON.parse(text)
      station = Nurv::Stations::Station.new(Nurv::Facts.of(before["station"]), SHIPPED)
      log = Nurv::Bench::Log.parse(before["log"].map { |act| "#{JSON.generate(act)}\n" }.join)
      policy = before["policy"] && Nurv::Grading::Policy.new(Nurv::Facts.of(before["policy"]))
      procedure = before["procedure"] && SHIPPED.procedures.fetch(before["procedure"].to_sym)
      procedure &&= procedure.adjusted(Nurv::Facts.of(before["overlay"]))
      variant = Nurv::Stations::Variant.new(station, before["seed"])
      grade = Nurv::Grading::Grader.grade(variant, log, policy: policy, procedure: procedure)
      now = plain.call(Nurv::Words::ToldGrade.new(grade, SHIPPED).to_h)
      both = [now, before["grade"]].map do |grade|
        marks.call(grade).merge("lines" => grade["lines"].map { |line| line.slice(*facts) })
      end
      moments = both.map { |grade| grade["lines"].map { |line| line.delete("at_s") } }
      expect(both.first).to eq(both.last)
      moments.transpose.each do |one, other|
        expect(one).to other.nil? ? be_nil : be_within(0.05).of(other)
      end
      expect(now["lines"].first.keys).to include(*before["grade"]["lines"].first.keys)
    end
  end

  it "hold grades that were kept with sentences, and say the same still" do
    Zlib::GzipReader.open(File.join(folder, "grades.jsonl.gz")) do |file|
      file.each_line.each_slice(16).map(&:first).each do |text|
        before = JSON.parse(text)["grade"]
        body = JSON.generate(procedure: before["procedure"], lines: before["lines"])
        policy = SHIPPED.policies.fetch(:standard)
        kept = Nurv::Grading::Grade.load(body, policy, SHIPPED.procedures.values)
        told = Nurv::Words::ToldGrade.new(kept, SHIPPED).lines
        sentences = %i[title expected happened]
        expect(told.map { |line| sentences.map { |name| line.public_send(name) } }).to eq(
          before["lines"].map { |line| line.values_at(*sentences.map(&:to_s)) }
        )
      end
    end
  end

  it "bring a class in with the scores it had" do
    course = File.open(File.join(folder, "class.tar.gz"), "rb") { |io| stores.archive.unpack(make_instructor, io) }
    scores =
      stores
        .attempts
        .of_class(course)
        .select(&:over?)
        .map do |attempt|
          grade = stores.grades.computed(attempt)
          {
            trainee: attempt.trainee_name,
            station: attempt.station.id,
            score: grade.score,
            mistakes: grade.mistakes
          }
        end
    by_name = ->(list) { list.sort_by { |item| [item["trainee"], item["station"]] } }
    before = JSON.parse(File.read(File.join(folder, "class.json")))
    # An exam that was running when it was exported is over here.
    expect(by_name.call(plain.call(scores))).to include(*before)
    expect(before.size).to be > 10
  end
end
