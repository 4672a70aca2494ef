# frozen_string_literal: true

# What all data of a kind must keep to, so that a new file is held to it too.
RSpec.describe "The facts in data/" do
  catalog = SHIPPED

  catalog.kits.each_value do |kit|
    describe kit.name do
      it "joins nothing that is not there, and has its gauge on chambers of its own" do
        nodes = kit.nodes.map { |node| node[:id].to_sym }
        ends =
          kit.valves.values.flat_map { |valve| [valve.from, valve.to] } + kit.hoses.values.map(&:node) +
          kit.gauge.values
        expect(ends.uniq - nodes - [:air]).to eq([])
        expect(kit.gauge.keys).to contain_exactly(:high, :low)
      end

      it "is drawn: every valve and every hose has its place, inside the picture" do
        expect(kit.drawing[:valves].keys).to match_array(kit.valves.keys)
        expect(kit.drawing[:ports].keys).to match_array(kit.hoses.keys)
        kit.drawing[:valves].each_value do |spot|
          expect(spot[:x]).to be_between(160, 680)
          expect(spot[:y]).to be_between(345, 633)
        end
      end

      it "bleeds every hose through a valve of its own" do
        assembly = catalog.procedures.values.find { |procedure| procedure.kits.include?(kit.id) }.assembly
        kind =
          catalog.procedures.values.find do |procedure|
            procedure.assembly == assembly && procedure.kits.include?(kit.id)
          end
        bench =
          tester(
            assembly: assembly.to_s,
            procedures: [kind.id.to_s],
            kit: {
              id: kit.id.to_s,
              serial: "NK-1",
              checked_on: "2026-03-02"
            }
          )
        bench.connect(high: :test_cock_2).turn(:test_cock_2, 1.0)
        before = bench.span.air_in_hose(:high, bench.time_s)
        kit.valves.each_key { |valve| bench.turn(valve, 2.5) }
        bench.wait(20)
        expect(bench.span.air_in_hose(:high, bench.time_s)).to be < before * 0.1
      end
    end
  end

  catalog.assemblies.each_value do |assembly|
    describe assembly.name do
      it "joins nothing that is not there" do
        nodes = assembly.nodes.map { |node| node[:id].to_sym }
        ends =
          assembly.edges.flat_map { |edge| edge.values_at(:from, :to, :inlet, :zone, :body).compact.map(&:to_sym) } +
          assembly.test_cocks.values.map(&:node)
        expect(ends.uniq - nodes - [:air]).to eq([])
        expect(assembly.cross_capacitances.flat_map { |pair| pair[:between].map(&:to_sym) } - nodes).to eq([])
      end

      it "stands at rest with no water running and its checks holding their springs" do
        procedure = catalog.procedures.values.find { |item| item.assembly == assembly.id }
        bench =
          tester(
            assembly: assembly.id.to_s,
            procedures: [procedure.id.to_s],
            kit: {
              id: procedure.kits.first.to_s,
              serial: "NK-1",
              checked_on: "2026-03-02"
            }
          ).wait(5)
        expect(bench.span.outlets_at(bench.time_s).values.max).to be < 0.01
        second = assembly.components.include?(:check_valve_2) ? :zone : :body
        expect(bench.span.differential_at(bench.time_s, :inlet, second)).to be_within(0.1).of(
          assembly.springs_psid[:check_valve_1]
        )
      end

      it "has every component in words" do
        expect(assembly.components).to all(satisfy { |part| catalog.words.known?(:parts, part) })
      end
    end
  end

  it "says of every fault what it is called, what it looks like, and a repair that fits its part" do
    catalog.faults.each_value do |fault|
      expect([fault.label, fault.sign].map(&:length)).to all(be > 10)
      expect(catalog.words.known?(:parts, fault.component)).to be(true)
      expect(catalog.words.known?(:reasons, fault.reason)).to be(true)
      # The main stands on the inlet shutoff: nobody here mends that.
      expect(fault.mended_by.any?).to be(fault.component != :shutoff_valve_1)
      fault.mended_by.each do |way|
        expect(catalog.repairs.fetch(way).fits?(fault.component)).to be(true), "#{fault.id}: #{way}"
      end
    end
  end

  it "grades every fault from light to gross in one direction" do
    catalog.faults.each_value do |fault|
      catalog.assemblies.each_key do |assembly|
        next unless fault.applies_to?(assembly)

        settings =
          Nurv::Equipment::Fault::SEVERITIES.map { |severity| fault.settings(assembly, severity)[1].values.first }
        next if settings.all?(true)

        expect(settings.sort == settings || settings.sort.reverse == settings).to be(true), "#{fault.id} #{settings}"
        expect(settings.uniq.size).to eq(3)
      end
    end
  end

  it "has at every site somebody to ask and to tell, and things to look at" do
    catalog.sites.each_value do |site|
      topics = site.people.values.flat_map(&:topics)
      expect(topics).to include("shutdown", "water_on")
      expect(topics).to all(satisfy { |topic| catalog.words.known?(:topics, topic) })
      expect(site.things.keys).to include(:surroundings, :upstream_piping)
      expect(%w[low high]).to include(site.hazard)
    end
  end

  it "has a fire line with an alarm desk, who must be told as well" do
    bench =
      variant(
        assembly: "dc",
        site: "net_loft",
        procedures: ["d2"],
        kit: {
          id: "three_valve",
          serial: "NK-1",
          checked_on: "2026-03-02"
        }
      )
    actions = expert_actions(bench)
    expect(actions.select { |act| act[:kind] == "tell" }.map { |act| act[:person] }).to eq(
      %w[occupant alarm occupant alarm]
    )
    forgot = actions.reject { |act| act[:person] == "alarm" && act[:topic] == "shutdown" }
    expect(grade(bench, forgot).mistakes).to eq([:not_notified])
  end

  it "has every finding at a place one can look at, or in what one is told" do
    places = Nurv::Bench::Sight::THINGS + [:permission]
    expect(catalog.findings.values.map(&:at) - places).to eq([])
    expect(catalog.findings.values.select(&:stops?).map(&:id)).to include(
      :flooded_pit,
      :kit_out_of_date,
      :wrong_assembly,
      :permission_refused,
      :gauge_off_zero
    )
  end

  it "names no mistake twice, and gives every one a reason" do
    words = catalog.words
    catalog.mistakes.each { |id| expect([words.mistake(id), words.why(id)].map(&:length)).to all(be > 8) }
    expect(catalog.mistakes.map { |id| words.mistake(id) }.uniq.size).to eq(catalog.mistakes.size)
  end

  it "lets nothing be changed that was read" do
    expect { catalog.demo_stations.first.data[:line][:pressure_psi] = 1 }.to raise_error(FrozenError)
    expect { catalog.procedures.fetch(:r1).steps.first.matched << {} }.to raise_error(FrozenError)
  end

  it "says of unreadable YAML which line it is" do
    expect { Nurv::Facts.parse("a: [1,\nb: 2", "x.yml") }.to be_bad_data(/x\.yml: line \d/)
    expect { Nurv::Facts.parse("- 1", "x.yml") }.to be_bad_data(/mapping/)
    expect { Nurv::Facts.parse("a: !ruby/object:Object {}", "x.yml") }.to be_bad_data(/plain values/)
  end
end
