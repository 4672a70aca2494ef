# frozen_string_literal: true

require "support/web"
require "zlib"

# Files that versions of November 2026 wrote: they are read, and come out with the marks and readings that they had, but
# for those that newer water moved: each of these is listed. A run looks at some.
RSpec.describe "Files of before", :web do
  folder = File.expand_path("../fixtures/of_2026_11", __dir__)
  facts = %w[earned mistake]
  plain = ->(value) { JSON.parse(JSON.generate(value)) }
  # What comes out otherwise by newer water and fairer rules of grading, by the place of a grade in its file: lines with
  # the mistake that they had and have, or with the points. Each with its reason.
  moved = YAML.safe_load_file(File.join(folder, "moved.yml"))
  moved_truths = {
    "08_boat_yard" => {"relief_valve_opening" => %w[3.1 3.0]},
    "13_dc_hold" => {"check_valve_1" => %w[1.9 2.0]},
    "22_rp_debris" => {"relief_valve_opening" => %w[3.0 3.1]}
  }

  # A double check stood before anything then, and a floor that slopes to an electrical panel stopped no test.
  catalog = SHIPPED.with(
    assemblies: [SHIPPED.to_data[:assemblies].find { |one| one[:id] == "dc" }.except(:suits)],
    findings: [SHIPPED.to_data[:findings].find { |one| one[:id] == "no_drain" }.merge(stops: false)]
  )

  it "hold stations that are good, to the last key" do
    paths = Dir[File.join(folder, "stations/*.yml")].sort
    expect(paths.size).to eq(23)
    paths.each do |path|
      station = Nurv::Stations::Station.read(path, catalog)
      expect(Nurv::Stations::Station.parse(station.to_yaml, catalog).data).to eq(station.data)
      expect(plain.call(station.data)).to eq(YAML.safe_load_file(path))
    end
  end

  it "tell the truth they told, by the same command with the same keys" do
    truths = JSON.parse(File.read(File.join(folder, "truths.json")))
    Sample.of(truths.keys, 6).each do |name|
      out = StringIO.new
      Nurv::CommandLine.new(["truth", File.join(folder, "stations/#{name}.yml"), "--json"],
        catalog: catalog, out: out).run
      now = JSON.parse(out.string)
      expect(now.size).to eq(truths[name].size)
      now.zip(truths[name]) do |one, other|
        pair = ->(item) { [other["values"][item], one["values"][item]] }
        otherwise = other["values"].keys.reject { |item| pair.call(item).uniq.one? }
        expect(moved_truths.fetch(name, {})).to include(otherwise.to_h { |item| [item, pair.call(item)] }), name
        rest = [one, other].map { |truth| truth.except("values", "seconds", "buffer_psid") }
        expect(rest.first).to eq(rest.last), name
      end
    end
  end

  it "are marked as they were" do
    kept = Zlib::GzipReader.open(File.join(folder, "grades.jsonl.gz")) { |file| file.each_line.to_a }
    expect(kept.size).to eq(128)
    Sample.of(kept.each_with_index.to_a, 16).each do |text, place|
      before = JSON.parse(text)
      station = Nurv::Stations::Station.new(Nurv::Facts.of(before["station"]), catalog)
      log = Nurv::Bench::Log.parse(before["log"].map { |act| "#{JSON.generate(act)}\n" }.join)
      policy = before["policy"] && Nurv::Grading::Policy.new(Nurv::Facts.of(before["policy"]))
      procedure = before["procedure"] && catalog.procedures.fetch(before["procedure"].to_sym)
      procedure &&= procedure.adjusted(Nurv::Facts.of(before["overlay"]))
      variant = Nurv::Stations::Variant.new(station, before["seed"])
      grade = Nurv::Grading::Grader.grade(variant, log, policy: policy, procedure: procedure)
      now = plain.call(Nurv::Words::ToldGrade.new(grade, SHIPPED).to_h)
      told =
        [before["grade"], now].map do |one|
          lines = one["lines"].to_h { |line| [line.values_at("section", "id").join("."), line.values_at(*facts)] }
          lines.merge("outright" => one["failed_outright"])
        end
      otherwise = (told.first.keys | told.last.keys).reject { |id| told.first[id] == told.last[id] }
      came = otherwise.to_h { |id| [id, told.map { |lines| lines[id]&.join(" ") }] }
      expect(came).to eq(moved.fetch(place, {}))
      next if moved.key?(place)

      same = %w[procedure policy score pass]
      expect(now.slice(*same)).to eq(before["grade"].slice(*same))
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
    # An exam that was running when it was exported is over here. Half of a look around is half its points since.
    halves = ->(list) { list.map { |item| item["mistakes"].include?("not_inspected") ? item.except("score") : item } }
    expect(halves.call(by_name.call(plain.call(scores)))).to include(*halves.call(before))
    expect(before.size).to be > 10
  end
end
