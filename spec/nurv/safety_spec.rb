# frozen_string_literal: true

# What the facts say where somebody could be hurt, or another assembly's parts could mislead.
RSpec.describe "Cautions in the facts" do
  include BenchWork

  catalog = SHIPPED

  it "say at each assembly what shows there, and name no part that it does not have" do
    parts = {
      relief_valve: /relief/i,
      air_inlet: /poppet|canopy|air inlet/i,
      check_valve_2: /check valve 2|check 2|cv2/i
    }
    catalog.assemblies.each_value do |assembly|
      catalog.faults.values.select { |fault| fault.applies_to?(assembly.id) }.each do |fault|
        parts.except(*assembly.components).each_value do |words|
          sign = fault.sign_at(assembly.id)
          expect(sign.match?(words) ? [assembly.id, fault.id, sign] : nil).to be_nil
        end
      end
    end
  end

  it "stop the test where water would run to an electrical panel" do
    findings = catalog.findings.values.select { |one| one.text.match?(/electric|cable|panel|switchboard/i) }
    expect(findings.map(&:id)).to include(:no_drain, :flooded_pit)
    expect(findings).to all(be_stops)
    bench = variant(findings: ["no_drain"])
    truth = Nurv::Expert::Truth.of(bench, bench.station.procedures.first)
    expect([truth.stopped?, truth.faults]).to eq([true, ["site:must_not_test"]])
  end

  it "have the alarm desk of a fire line put the account on test, and be told when it is over" do
    fire = catalog.sites.values.select(&:fire?)
    expect(fire).not_to be_empty
    fire.each do |site|
      desk = site.people.values.find { |person| person.role.match?(/alarm/) }
      expect(desk.topics).to include("shutdown", "water_on")
      expect(desk.replies[:shutdown]).to match(/on test/)
      expect(desk.says.values.join).to match(/account on test.*off test/m)
    end
  end

  it "tell in a drill's task all that the drill grades" do
    drill = catalog_drills.find { |one| one[:id] == "back_to_service" }
    expect(drill[:task]).to match(/off.*tell people.*open the shutoff valves.*look for leaks/m)
    expect(drill[:ways].flat_map { |way| way[:steps] }.uniq).to eq(
      %w[close_everything announce_water reopen look_again]
    )
  end

  def catalog_drills =
    YAML.safe_load_file(File.expand_path("../../data/drills/drills.yml", __dir__), symbolize_names: true)
end
