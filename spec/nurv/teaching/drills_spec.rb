# frozen_string_literal: true

# One contract for every drill that ships, in every way it has.
RSpec.describe Nurv::Teaching::Drill do
  path = File.join(Nurv::Catalog::ROOT, "drills/drills.yml")
  drills = described_class.parse(File.read(path), SHIPPED, path)

  it "are at least thirteen, and there are some for each assembly" do
    expect(drills.size).to be >= 13
    assemblies = drills.values.flat_map { |drill| drill.ways.map { |way| SHIPPED.procedures[way.procedure].assembly } }
    expect(assemblies.tally.values).to all(be >= 5)
    expect(assemblies.uniq).to match_array(SHIPPED.assemblies.keys)
  end

  drills.each_value.with_index do |drill, turn|
    it "“#{drill.label}” gives full marks to who does it right, and less to who only presses Done" do
      Sample.of(drill.ways.rotate(turn), 3).each do |way|
        procedure = SHIPPED.procedures.fetch(way.procedure)
        station = drill.station(way, procedure, 4_711, SHIPPED)
        expect(station.data).to eq(drill.station(way, procedure, 4_711, SHIPPED).data)
        right, at_once = drill.trial(way, 4_711, SHIPPED)
        expect([right, at_once < 100.0]).to eq([100.0, true]), "#{way.procedure} #{way.from}: #{right}, #{at_once}"
      end
    end
  end

  it "are refused with the place where they name what is not there" do
    broken = YAML.safe_load_file(path)
    broken[0]["ways"][0]["from"] = "no_such_step"
    broken[1]["seconds"] = "soon"
    expect { described_class.parse(YAML.dump(broken), SHIPPED) }.to raise_error(Nurv::DataError, /seconds/)
    broken[1]["seconds"] = 60
    expect { described_class.parse(YAML.dump(broken), SHIPPED) }.to raise_error(Nurv::DataError) do |error|
      expect(error.problems.map(&:first)).to eq(["read_the_needle: ways[0].from"])
    end
  end
end
