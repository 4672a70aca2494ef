# frozen_string_literal: true

require "support/web"

RSpec.describe "Sites of an instructor's own", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let(:fields) do
    {
      name: "Otter Weir Pump House",
      place: "Upper floor, by the stairs",
      service: "Sprinklers and a hose reel",
      hazard: "low",
      fire: "1",
      person_0: "Nan Quill",
      role_0: "weir keeper",
      person_1: "Weir alarm desk",
      role_1: "alarm monitoring",
      see_surroundings: "Dry floor, a lamp that works.",
      see_upstream_piping: "Straight pipe, no branch."
    }
  end

  before { sign_in("ines") }

  it "are kept, chosen in the builder, tested at, and put right again" do
    send_form "/sites", **fields
    expect(last_response.location).to end_with("/stations/new?site=otter_weir_pump_house")
    follow_redirect!
    expect(html).to include("Otter Weir Pump House")
    catalog = stores.catalogs.of(instructor)
    site = catalog.sites.fetch(:otter_weir_pump_house)
    expect([site.fire?, site.people.size, site.things[:surroundings].text]).to eq(
      [true, 2, "Dry floor, a lamp that works."]
    )
    form = Web::StationForm.fresh(catalog.assemblies.fetch(:dc), catalog, site: "otter_weir_pump_house")
    expect(form.raw["site"]).to eq("otter_weir_pump_house")
    expect(get("/sites/new?site=otter_weir_pump_house").body).to include("Nan Quill").and include("weir keeper")
    send_form "/sites", **fields, id: "otter_weir_pump_house", name: "Otter Weir", person_0: "Bel Quill"
    changed = stores.catalogs.of(instructor).sites
    expect(changed.keys.count { |id| id.to_s.start_with?("otter") }).to eq(1)
    expect(changed.fetch(:otter_weir_pump_house).people.values.first.name).to eq("Bel Quill")
  end

  it "are refused with a sentence for each gap, and lose nothing that was typed" do
    send_form "/sites", **fields, name: "", person_0: "", see_surroundings: ""
    expect(last_response.status).to eq(422)
    expect(html).to include("Say what the place is called.").and include("Name somebody who must be asked")
    expect(html).to include("Say what there is to see.").and include("Upper floor, by the stairs")
    expect(stores.catalogs.own_text(instructor)).to eq("")
  end

  it "stand beside findings of one's own, chosen in the builder and written down at the bench in those words" do
    found = {label: "Relief port piped away", at: "surroundings", text: "A pipe leads from the port into the wall."}
    send_form "/findings", **found, stops: "1"
    expect(last_response.location).to end_with("/stations/new")
    follow_redirect!
    expect(html).to include("Relief port piped away (stop)")
    expect(get("/findings/new?finding=relief_port_piped_away").body).to include("into the wall")
    catalog = stores.catalogs.of(instructor)
    usual = catalog.demo_stations.find { |station| station.id == :bottle_rinser }
    data = Nurv::Facts.of({**usual.data, findings: ["relief_port_piped_away"]})
    variant = Nurv::Stations::Variant.new(Nurv::Stations::Station.new(data, catalog), 1)
    log = Nurv::Expert::Truth.of(variant, variant.station.procedures.first).run.log
    expect(log.map(&:to_h)).to include(a_hash_including(kind: "find", as: "relief_port_piped_away"))
    expect(Nurv::Grading::Grader.grade(variant, log).score).to eq(100.0)
    send_form "/findings", **found, label: "", at: "the moon", text: ""
    expect(last_response.status).to eq(422)
    expect(html).to include("Say in a few words", "Choose where it is seen", "Say what a tester sees")
  end

  it "make the wrong type for the use a finding, wherever it stands" do
    catalog = SHIPPED
    usual = catalog.demo_stations.find { |station| station.id.to_s == "dc_healthy" }
    station = Nurv::Stations::Station.new(Nurv::Facts.of({**usual.data, site: "dairy"}), catalog)
    expect(station.findings.map(&:id)).to eq([:wrong_application])
    truth = Nurv::Expert::Truth.of(Nurv::Stations::Variant.new(station, 1), station.procedures.first)
    log = truth.run.log
    expect(Nurv::Grading::Grader.grade(Nurv::Stations::Variant.new(station, 1), log).score).to eq(100.0)
    expect(log.map(&:to_h)).to include(a_hash_including(kind: "find", as: "wrong_application"))
    found =
      Sample.of(%i[easy medium hard], 3).flat_map do |difficulty|
        generator = Nurv::Expert::Generator.new(catalog.procedures.fetch(:d1), difficulty, 3, catalog)
        generator.stations(3).flat_map(&:findings)
      end
    expect(found.map(&:id)).not_to include(:wrong_application)
  end
end
