# frozen_string_literal: true

require "support/web"

# An instructor's own facts, and what benches and exams are held under.
RSpec.describe "Facts of their own", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let(:trainee) { make_trainee }
  let(:course) { make_class(instructor, trainee) }
  let(:pump_house) { SHIPPED.to_data[:sites].first.merge(id: "pump_house", name: "Otter Weir Pump House") }
  let(:r1) { SHIPPED.to_data[:procedures].find { |data| data[:id] == "r1" } }

  def yaml(facts) = YAML.dump(JSON.parse(JSON.generate(facts)))

  # R1 as a house of its own has it: nothing is worth more than asking.
  def house_rules(points) =
    r1.merge(
      id: "weir",
      label: "The weir's way",
      steps: r1[:steps].map { |step| (step[:use] == "notify") ? step.merge(points: points) : step }
    )

  def own_station
    data = SHIPPED.demo_stations.find { |one| one.id == :bottle_rinser }.data
    yaml(data.merge(id: "weir", title: "Weir", site: "pump_house", procedures: ["weir"]))
  end

  # An exam at the weir, worked by a correct tester who does not ask.
  def exam_at_the_weir
    id = stores.stations.create(instructor, own_station)
    row = stores.stations.find(instructor, id)
    exam =
      stores.exams.create(
        instructor,
        course,
        title: "Weir exam",
        policy: SHIPPED.policies.fetch(:standard),
        stations: [{station_id: row.id, title: row.title, body: row.body, pool: nil}],
        shuffled: false,
        seed: 3
      )
    stores.exams.open(exam, [trainee])
    demo.play(stores.attempts.of_exam(exam).first, slip: ->(acts) { acts.reject { |act| act[:kind] == "tell" } })
    exam
  end

  def graded(exam) =
    stores.attempts.of_exam(exam).map do |attempt|
      stores.database[:grades].delete
      stores.grades.computed(attempt).lines.find { |line| line.id == :notify }.points
    end

  it "are kept for this instructor alone, and can be had as a file" do
    sign_in("ines")
    text = yaml(sites: [pump_house])
    send_form "/settings/facts", text: text
    follow_redirect!
    expect(html).to include("pump_house")
    expect(get("/settings/facts.yml").body).to eq(text)
    get "/stations/new?assembly=rp"
    expect(html).to include("Otter Weir Pump House")
    make_instructor("other")
    sign_in("other")
    get "/stations/new?assembly=rp"
    expect(html).not_to include("Otter Weir Pump House")
  end

  it "are refused with every place, and nothing typed is lost" do
    sign_in("ines")
    text = yaml(sites: [pump_house.merge(hazard: "some")], procedures: [house_rules(4).merge(kits: ["none"])])
    send_form "/settings/facts", text: text
    expect(last_response.status).to eq(422)
    expect(html).to include("sites pump_house: hazard").and include("should be low or high")
    expect(last_response.body).to include("hazard: some")
    send_form "/settings/facts", text: "sites: [\n"
    expect(html).to include("is not YAML")
    expect(stores.catalogs.own_text(instructor)).to eq("")
  end

  it "cannot be taken away from a station that needs them" do
    stores.catalogs.change_own(instructor, yaml(sites: [pump_house], procedures: [house_rules(4)]))
    stores.stations.create(instructor, own_station)
    sign_in("ines")
    send_form "/settings/facts", text: yaml(sites: [pump_house])
    expect(html).to include("Weir: procedures[0]").and include("is not a known procedure")
    expect(stores.stations.of(instructor).map { |row| row.station.site.name }).to eq(["Otter Weir Pump House"])
  end

  it "stay as they were for an exam that was held under them, and for its class as a file" do
    stores.catalogs.change_own(instructor, yaml(sites: [pump_house], procedures: [house_rules(7)]))
    exam = exam_at_the_weir
    stores.catalogs.change_own(instructor, yaml(sites: [pump_house], procedures: [house_rules(12)]))
    later = exam_at_the_weir
    expect([graded(exam), graded(later)]).to eq([[7], [12]])

    packed = stores.archive.pack(course)
    CleanDatabase.clean
    owner = make_instructor("newcomer")
    copy = Store::Cabinet.new(DB, SHIPPED).archive.unpack(owner, StringIO.new(packed))
    points = stores.exams.of_class(copy).to_h { |one| [one.id, graded(one)] }.values
    expect(points).to contain_exactly([7], [12])
    expect(stores.stations.of(owner)).to eq([])
  end

  it "leave a bench of before under what shipped then, whatever ships with a later version" do
    attempt = make_attempt(instructor, trainee)
    demo.play(attempt)
    stores.database[:attempts].update(catalog: nil)
    stores.catalogs.pin
    changed = SHIPPED.to_data[:procedures].map { |data| (data[:id] == "r1") ? house_rules(9).merge(id: "r1") : data }
    later = Store::Cabinet.new(DB, Nurv::Catalog.of({**SHIPPED.to_data, procedures: changed}, SHIPPED.words))
    DB[:grades].delete
    points = lambda do |stores, one|
      stores.grades.computed(stores.attempts.find(one.id)).lines.find { |line| line.id == :notify }.points
    end
    expect(points.call(later, attempt)).to eq(4)
    newer = later.attempts.create(
      station_row: later.stations.find(instructor, later.stations.of(instructor).first.id),
      instructor: instructor,
      trainee: trainee,
      mode: "exam",
      seed: 1
    )
    Benches::Demo.new(later, Benches::Keeper.new(later)).play(newer)
    expect(points.call(later, newer)).to eq(9)
  end
end
