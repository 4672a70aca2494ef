# frozen_string_literal: true

RSpec.describe Nurv::Bench::Sight do
  def sight(bench) = described_class.new(bench.variant.station, bench.span.state)

  def thing(bench, id) = sight(bench).things.find { |item| item.id == id }

  it "shows a relief port to watch at an RP, an air inlet at a PVB, and neither at a DC" do
    watched = {"rp" => %w[r1 five_valve], "pvb" => %w[p1 two_valve_bleed], "dc" => %w[d1 two_valve_bleed]}
      .to_h do |assembly, (procedure, kit)|
        bench = tester(assembly: assembly, procedures: [procedure], kit: {id: kit, serial: "NK-1"})
        [assembly, sight(bench).watched]
      end
    expect(watched).to eq("rp" => :relief_port, "pvb" => :air_inlet, "dc" => nil)
    expect(sight(tester).things.map(&:id)).to include(:relief_port)
  end

  it "keeps a corroded plate from being read until it is cleaned" do
    bench = tester(plate_state: "corroded")
    expect(sight(bench)).to be_plate_corroded
    expect(thing(bench.act(:look, at: "plate"), :plate)).to have_attributes(shows: :corroded, seen: true)
    bench.act(:clean, at: "plate").act(:look, at: "plate")
    expect(sight(bench)).not_to be_plate_corroded
    expect(thing(bench, :plate)).to have_attributes(shows: :usual, seen: true)
  end

  # What is wrong with a kit shows on its label and its needle, and nobody says it.
  it "tells what is wrong with a place, but leaves label and needle to the tester" do
    defects = SHIPPED.findings.values
    told = defects.find { |defect| defect.at == :surroundings } || defects.find { |defect| defect.text }
    shows = defects.to_h { |defect| [defect.at, thing(tester(findings: [defect.id.to_s]), defect.at)&.shows] }.compact
    expect(shows[told.at]).to eq(:defect)
    expect(shows.slice(*described_class::EVIDENCE).values.uniq).to eq([:usual])
  end

  it "knows what has been said to whom, and what is still to be said" do
    bench = tester
    person, open, said = sight(bench).people.find { |talk| talk.open.include?("shutdown") }.to_a
    expect(said).to eq([])
    bench.act(:tell, person: person.id.to_s, topic: "shutdown")
    now = sight(bench).people.find { |talk| talk.person == person }
    expect([now.open, now.said]).to eq([open - ["shutdown"], ["shutdown"]])
  end

  it "counts as noted what was written down, once" do
    bench = tester(findings: ["flooded_pit"])
    at = SHIPPED.findings.fetch(:flooded_pit).at
    expect(sight(bench)).not_to be_noted(at)
    expect(sight(bench.act(:find, finding: at.to_s))).to be_noted(at)
  end
end
