# frozen_string_literal: true

# One schema for each kind of data, whoever wrote it.
RSpec.describe Nurv::Shapes do
  facts = SHIPPED.to_data
  shapes = Nurv::Catalog::KINDS
  shared = {steps: SHIPPED.shared_steps, settings: SHIPPED.shared_settings}
  written_out = ->(data) { Nurv::Procedures::Procedure.written_out(data, shared, "spec") }
  entries =
    shapes.keys.to_h { |kind| [kind, (kind == :procedures) ? facts[kind].map(&written_out) : facts[kind]] }
  entries[:stations] = SHIPPED.demo_stations.map(&:data)
  all = {**shapes, stations: Nurv::Shapes::Station}

  # Every mapping whose keys the schema knows, by its place.
  mappings = lambda do |keys, value, path = []|
    next [] unless value.is_a?(Hash)

    inner =
      keys.flat_map do |key|
        members = key.respond_to?(:members) ? key.members : (key.member if key.respond_to?(:member))
        next [] unless members.is_a?(Dry::Schema::KeyMap)

        item = value[key.name]
        next mappings.call(members, item, [*path, key.name]) unless item.is_a?(Array)

        item.each_with_index.flat_map { |one, index| mappings.call(members, one, [*path, key.name, index]) }
      end
    [path, *inner]
  end

  change = lambda do |data, path, &bend|
    next bend.call(data) if path.empty?

    copy = data.dup
    copy[path.first] = change.call(data[path.first], path.drop(1), &bend)
    copy
  end

  all.each do |kind, shape|
    describe kind.to_s do
      it "are good as they ship" do
        expect(entries[kind]).not_to be_empty
        expect(entries[kind].flat_map { |data| shape.problems(data) }).to eq([])
      end

      it "may say nothing that is not known, however deep, and are told where" do
        data = entries[kind].max_by { |one| mappings.call(shape.schema.key_map, one).size }
        mappings
          .call(shape.schema.key_map, data)
          .each do |path|
            bent = change.call(data, path) { |mapping| mapping.merge(misspelt: 1) }
            place = described_class::Shape.place([*path, :misspelt])
            expect(shape.problems(bent).map { |where, what| [where, what.id] }).to eq([[place, :unknown_key]])
          end
      end

      it "are told what is missing, where" do
        data = entries[kind].first
        needed = data.keys.select { |key| shape.problems(data.except(key)).any? }
        expect(needed).to include(:id)
        needed.each do |key|
          expect(shape.problems(data.except(key)).map { |where, what| [where, what.id] }).to eq([[key.to_s, :missing]])
        end
      end

      it "take no odd value for a crash: whatever a key holds, each problem has its place and its words" do
        data = entries[kind].first
        data.each_key do |key|
          [nil, 5, -1e300, Float::NAN, true, "", "x" * 500, [], [nil], [{}], {}, {a: 1}].each do |odd|
            told = SHIPPED.words.problems(shape.problems(data.merge(key => odd)))
            expect(told).to all(match([/\A#{key}/, /\w+ \w+/])), "#{kind}.#{key}: #{odd.inspect}: #{told}"
          end
        end
      end
    end
  end

  it "read a station of this version and of none, and refuse one that a newer Nurv wrote" do
    station = SHIPPED.demo_stations.first
    text = station.to_yaml
    expect(text).to start_with("---\nversion: 1\n")
    [text, text.sub("version: 1\n", "")].each do |one|
      expect(Nurv::Stations::Station.parse(one, SHIPPED).data).to eq(station.data)
    end
    expect { Nurv::Stations::Station.parse(text.sub("version: 1", "version: 2"), SHIPPED) }.to be_bad_data(/version 1/)
  end

  it "name the entry of a list or mapping that is wrong, and not the whole of it" do
    data = entries[:stations].first
    places = ->(bent) { Nurv::Shapes::Station.problems(data.merge(bent)).map(&:first) }
    expect(places.call(springs_psid: {check_valve_1: 8.0, check_valve_2: "much"})).to eq(["springs_psid.check_valve_2"])
    expect(places.call(findings: ["insects", 7])).to eq(["findings[1]"])
    expect(places.call(faults: [{id: "x", severity: "awful"}])).to eq(["faults[0].severity"])
  end
end

RSpec.describe Nurv::Catalog do
  own_site = lambda do |**changes|
    SHIPPED.to_data[:sites].first.merge(id: "pump_house", name: "Otter Weir Pump House", **changes)
  end

  it "goes together as it ships" do
    expect(described_class::Check.new(SHIPPED).problems).to eq([])
  end

  it "is the same out of plain data, to its digest" do
    again = described_class.of(JSON.parse(JSON.generate(SHIPPED.to_data)), SHIPPED.words)
    expect(again.digest).to eq(SHIPPED.digest)
    expect(again.procedures.keys).to eq(SHIPPED.procedures.keys)
  end

  it "takes an instructor's own site and procedure, and leaves the one it came from alone" do
    r1 = SHIPPED.to_data[:procedures].find { |data| data[:id] == "r1" }
    catalog = SHIPPED.with(sites: [own_site.call], procedures: [r1.merge(id: "weir", label: "The weir's way")])
    rinser = SHIPPED.demo_stations.find { |one| one.id == :bottle_rinser }
    station = Nurv::Facts.of(rinser.data.merge(site: "pump_house", procedures: ["weir"]))
    expect(Nurv::Stations::Check.new(station, SHIPPED).problems.map(&:first)).to eq(%w[site procedures[0]])
    variant = Nurv::Stations::Variant.new(Nurv::Stations::Station.new(station, catalog), 1)
    truth = Nurv::Expert::Truth.of(variant, catalog.procedures.fetch(:weir))
    grade = Nurv::Grading::Grader.grade(variant, truth.run.log)
    expect([grade.score, grade.procedure.title]).to eq([100.0, "WEIR · The weir's way"])
    expect(catalog.digest).not_to eq(SHIPPED.digest)
  end

  it "refuses facts that do not go together, with every place" do
    r1 = SHIPPED.to_data[:procedures].find { |data| data[:id] == "r1" }
    step = r1[:steps][5]
    bent = lambda do |**changes|
      {procedures: [r1.merge(steps: [*r1[:steps].take(5), step.merge(changes), *r1[:steps].drop(6)])]}
    end
    {
      bent.call(missed: "forgotten") => /step connect: missed: forgotten is not known/,
      bent.call(must: [{strainers: true}]) => /step connect: must: names no mistake/,
      bent.call(must: [{shiny: true, mistake: "hoses_wrong"}]) => /shiny is no requirement/,
      bent.call(matched: [{sunny: true}]) => /sunny: is no condition/,
      bent.call(do: [{juggle: 3}]) => /juggle has no verb/,
      bent.call(use: "nothing") => /steps\[5\].use: nothing is no shared step/,
      {sites: [own_site.call(hazard: "some")]} => /sites pump_house: hazard: should be low or high/,
      {sites: [own_site.call, 5]} => /should be a mapping/,
      {sites: "text"} => /sites: should be a list/,
      {mistakes: [{id: "odd"}]} => /mistakes: is not known here/
    }.each { |own, words| expect { SHIPPED.with(own) }.to be_bad_data(words) }
  end
end
