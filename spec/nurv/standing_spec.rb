# frozen_string_literal: true

require "spec_helper"

RSpec.describe "An assembly that stands" do
  include BenchWork

  ways = %w[upwards downwards]
  at = {r1: :bottle_rinser, r2: :rp_swinging, d1: :dc_healthy, d2: :dc_masked, d3: :dc_hold}

  def place(id, way, **more)
    kind = SHIPPED.procedures.fetch(id)
    kit = {id: kind.kits.first.to_s, serial: "NK-1", checked_on: "2026-03-02"}
    variant(assembly: kind.assembly.to_s, procedures: [id.to_s], kit: kit, direction: way, **more)
  end

  it "has its cocks and its port at heights of their own, the same distances up as down, as they are drawn" do
    lying = SHIPPED.assemblies.fetch(:rp)
    up, down = ways.map { |way| lying.stood(way.to_sym) }
    heights = up.test_cocks.values.map(&:elevation_in)
    expect(heights).to eq(heights.sort)
    expect(heights.uniq.size).to eq(4)
    expect(down.test_cocks.values.map(&:elevation_in)).to eq(heights.map { |inches| -inches + 0.0 })
    drawn = lying.drawing.values_at(*lying.test_cocks.keys).map { |spot| spot[:x] }
    scales = heights.each_cons(2).zip(drawn.each_cons(2)).map { |(a, b), (x, y)| (y - x) / (b - a) }
    expect(scales).to all(be_within(0.5).of(27.5))
    expect(lying.stood(:to_the_left)).to equal(lying)
    expect(lying.test_cocks.values.map(&:elevation_in).uniq).to eq([3.0])
  end

  Sample.of(at.to_a, 3).each do |id, station|
    it "reads the same there by #{id.to_s.upcase} as where it lies, and the expert loses nothing" do
      lying, *standing = ["to_the_right", *ways].map do |way|
        data = demo_station(station).data.merge(direction: way, procedures: [id.to_s])
        Nurv::Stations::Variant.new(Nurv::Stations::Station.new(Nurv::Facts.of(data), SHIPPED), 1)
      end
      truth = ->(one) { Nurv::Expert::Truth.of(one, one.station.procedures.first) }
      standing.each do |one|
        expect(Nurv::Grading::Grader.grade(one, truth.call(one).run.log).score).to eq(100.0)
        truth.call(lying).values.zip(truth.call(one).values).each do |(item, value), (_, there)|
          next expect(there).to eq(value) unless value.match?(/\d/)

          # A leaking check may read against another cock's outlet.
          expect(there.to_f).to be_within(0.3).of(value.to_f), "#{item}: #{there}, lying #{value}"
        end
      end
    end
  end

  it "asks for the outlet of one cock: held level with another it reads so much more as that hangs lower" do
    one = place(:r2, "upwards")
    acts = expert_actions(one)
    assembly = one.station.assembly
    level = acts.find { |act| act[:kind] == "level" }
    expect(level[:to]).to eq(assembly.test_cocks[:test_cock_3].elevation_in)
    low = assembly.test_cocks[:test_cock_2].elevation_in
    graded = grade(one, acts.map { |act| act.equal?(level) ? act.merge(to: low) : act })
    expect(graded.mistakes).to include(:gauge_not_level)
    needle = lambda do |height|
      bench = Tester.new(one)
      bench.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).wait(1).turn(:high_bleed, 2.5).wait(20)
      bench.turn(:high_bleed, 0.0).turn(:shutoff_valve_2, 0.0).wait(2).turn(:shutoff_valve_1, 0.0).wait(2)
      bench.act(:level, to: height).turn(:test_cock_3, 1.0).wait(40).needle
    end
    apart = (level[:to] - low) * Nurv::Units::PSI_PER_INCH_OF_WATER
    expect(needle.call(low) - needle.call(level[:to])).to be_within(0.02).of(apart)
  end

  it "is refused to one that is made for one way alone" do
    data = demo_station(:pvb_low).data.merge(direction: "upwards")
    problems = Nurv::Stations::Check.new(Nurv::Facts.of(data), SHIPPED).problems
    expect(SHIPPED.words.problems(problems)).to match([["direction", /cannot be turned/]])
  end

  it "is refused to a procedure that asks for one height of all its outlets" do
    written = JSON.generate(SHIPPED.to_data).gsub("test_cock_3_outlet", "test_cock_outlets")
    catalog = Nurv::Catalog.of(JSON.parse(written, symbolize_names: true), SHIPPED.words)
    problems = %w[to_the_right upwards].map do |way|
      data = demo_station(:rp_swinging).data.merge(direction: way)
      SHIPPED.words.problems(Nurv::Stations::Check.new(Nurv::Facts.of(data), catalog).problems)
    end
    expect(problems.first).to eq([])
    expect(problems.last).to match([["procedures[0]", /asks for the height test_cock_outlets/]])
  end

  it "says what its drawing lacks" do
    data = YAML.safe_load_file("data/assemblies/dc.yml", symbolize_names: true)
    data[:drawing].delete(:test_cock_3)
    expect { Nurv::Equipment::Assembly.new(data) }.to raise_error(Nurv::DataError) { |error|
      expect(error.problems.first.first).to eq("drawing.test_cock_3.x")
    }
  end

  it "calls cocks that wait for their tags from the top" do
    names = ->(way) { Nurv::Bench::Tags.names(station(direction: way, tags: "to_hang"), {}, SHIPPED.words) }
    expect(names.call("upwards")).to include(test_cock_4: "Highest cock", shutoff_valve_1: "Lower shutoff")
    expect(names.call("downwards")).to include(test_cock_1: "Highest cock", shutoff_valve_2: "Lower shutoff")
  end
end
