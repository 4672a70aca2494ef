# frozen_string_literal: true

require "support/web"

# What an exam is set up from, what it shares with practice, and who is let in.
RSpec.describe "Setting up an exam", :web do
  include Requests

  let(:instructor) { make_instructor }
  let(:trainee) { make_trainee }
  let(:course) { make_class(instructor, trainee) }
  let(:exams) { stores.exams }

  def app = Web::App

  describe "from stations that go" do
    it "archives a station in use, says where, and holds and copies the exam as before" do
      exam = make_exam(instructor, course, :bottle_rinser)
      station_id = exam.station_list.first[:station_id]
      sign_in("ines")
      get("/stations/#{station_id}")
      expect(html).to include("Used in:", exam.title, "Archive")
      send_form "/stations/#{station_id}/delete"
      follow_redirect!
      expect(html).to include("is in use, so it is archived", "Archived stations (1)")
      send_form "/exams/#{exam.id}/copy"
      copy = exams.of_class(course).first
      [exam, copy].each { |one| expect(exams.open(exams.find(instructor, one.id), [trainee])).to be(true) }
      late = make_trainee("late")
      expect(exams.open(exams.find(instructor, exam.id), [trainee, late])).to be(true)
      send_form "/stations/#{station_id}/restore"
      expect(stores.stations.of(instructor).map(&:id)).to include(station_id)
    end

    it "deletes one that nothing refers to" do
      row = make_station(instructor)
      sign_in("ines")
      send_form "/stations/#{row.id}/delete"
      expect(DB[:stations].where(id: row.id).count).to eq(0)
    end

    it "opens an exam whose stations are numbered as somewhere else, as a file brings it" do
      exam = make_exam(instructor, course, :bottle_rinser)
      list = exam.station_list.map { |item| {**item, station_id: 987_654} }
      DB[:exams].where(id: exam.id).update(stations: JSON.generate(list))
      DB[:exam_stations].delete
      expect(exams.open(exams.find(instructor, exam.id), [trainee])).to be(true)
      expect(stores.attempts.of_exam(exam).first.station.title).to eq("Healthy")
    end

    it "opens the exams of others on time though one cannot be opened, and says so to its owner" do
      broken, fine = Array.new(2) { make_exam(instructor, course, :bottle_rinser) }
      DB[:exams].where(id: [broken.id, fine.id]).update(opens_at: Clock.now - 60)
      DB[:exams].where(id: broken.id).update(stations: JSON.generate([{title: "?", body: nil}]))
      unreadable = make_exam(instructor, course, :bottle_rinser)
      DB[:exams].where(id: unreadable.id).update(opens_at: Clock.now - 90, stations: "[")
      job = stores.jobs.push("grade", subject: 1, attempt_id: 999_999)
      runner = Work::Runner.new(stores, keeper)
      3.times { runner.tick }
      expect(DB[:exams].where(id: [broken.id, fine.id]).order(:id).select_map(:status)).to eq(%w[draft open])
      expect(stores.jobs.find(job).state).to eq("done")
      sign_in("ines")
      expect(get("/classes/#{course.id}").status).to eq(200)
      DB[:exams].where(id: broken.id).update(stations: JSON.generate(fine.station_list))
      get("/exams/#{broken.id}")
      expect(html).to include("It could not be opened at the time you set.")
    end
  end

  describe "from stations that were practice" do
    before do
      row = make_station(instructor)
      practice = stores.attempts.create(
        station_row: row, instructor: instructor, trainee: trainee, mode: "practice", seed: 1, course: course
      )
      stores.attempts.begin(practice, wall_ms)
      @exam = exams.create(
        instructor,
        course,
        title: "Spring exam",
        policy: SHIPPED.policies.fetch(:standard),
        shuffled: false,
        seed: 5,
        stations: [{station_id: row.id, title: row.title, body: row.body, pool: nil}]
      )
      @practice = practice
      sign_in("ines")
    end

    it "names them, and makes other variants with one press, no two alike" do
      get("/exams/#{@exam.id}")
      expect(html).to include("Used in practice by this class:", "Healthy (1)", "The same for every trainee:")
      send_form "/exams/#{@exam.id}/vary"
      get("/exams/#{@exam.id}")
      expect(html).not_to include("The same for every trainee:")
      people = [trainee, *%w[una vik wim].map { |login| make_trainee(login) }]
      exams.open(exams.find(instructor, @exam.id), people)
      variants = stores.attempts.of_exam(@exam).map { |one| one.variant.station }
      expect(variants.map { |one| one.plate[:serial] }.uniq.size).to eq(4)
      expect(variants.map { |one| one.line[:pressure_psi] }.uniq.size).to be > 1
      expect(variants.map { |one| one.data[:faults] }.uniq).to eq([[]])
      variants.each { |one| expect(one.plate[:serial]).not_to eq(@practice.station.plate[:serial]) }
    end

    it "asks before it is opened, and tells of a time that was set for later" do
      DB[:exams].where(id: @exam.id).update(opens_at: Clock.now + 3 * 86_400)
      send_form "/exams/#{@exam.id}/open"
      follow_redirect!
      expect(html).to include("You set it to open by itself on", "Open the exam now")
      expect(exams.find(instructor, @exam.id)).to be_draft
      send_form "/exams/#{@exam.id}/open", sure: "1"
      expect(exams.find(instructor, @exam.id)).to be_open
    end

    it "shows who sits it nothing that helps, from its opening to their last hand-in" do
      second = make_station(instructor, :lido_plant)
      list = @exam.station_list + [{station_id: second.id, title: second.title, body: second.body, pool: nil}]
      DB[:exams].where(id: @exam.id).update(stations: JSON.generate(list))
      result = begin_attempt(instructor, trainee, mode: "practice")
      keeper.of(result).act(result, {kind: "submit"}, id: "s", known_seq: 0, seen_ms: 0, wall_ms: wall_ms)
      helps = %W[
        /attempts/#{@practice.id}/bench /attempts/#{@practice.id}/coach /attempts/#{@practice.id}/hint
        /attempts/#{result.id}/result /attempts/#{result.id}/replay /drills /practise /lab /lab/cases /reference
      ]
      stores.classes.let_practise(course, %i[r1])
      sign_in("teo", "1234")
      tried = -> { helps.to_h { |path| [path, get(path).body.include?("Not during an exam")] } }
      expect(tried.call.values).to all(be(false))
      exams.open(exams.find(instructor, @exam.id), [trainee])
      expect(tried.call.reject { |_, shut| shut }).to be_empty
      benches = stores.attempts.of_exam(@exam)
      benches.each do |bench|
        begun = stores.attempts.begin(bench, wall_ms)
        expect(tried.call.reject { |_, shut| shut }).to be_empty
        keeper.of(begun).act(begun, {kind: "submit"}, id: "s", known_seq: 0, seen_ms: 0, wall_ms: wall_ms)
      end
      expect(tried.call.values).to all(be(false))
    end
  end

  it "asks for the time zone of an opening time, and keeps it" do
    policy = Web::PolicyForm.of(SHIPPED.policies.fetch(:standard)).raw
    row = make_station(instructor)
    sign_in("ines")
    get("/classes/#{course.id}/exams/new")
    expect(html).to include("Time zone of that time", "data-own-zone")
    send_form "/classes/#{course.id}/exams",
      **policy, title: "Monday", stations: [row.id.to_s], opens_at: "2026-05-04T08:30", time_zone: "Atlantic/Azores"
    expect(exams.of_class(course).first.opens_at.to_time.utc).to eq(Time.utc(2026, 5, 4, 8, 30))
    expect(stores.users.find(instructor.id).time_zone).to eq("Atlantic/Azores")
    send_form "/classes/#{course.id}/exams",
      **policy, title: "Monday", stations: [row.id.to_s], opens_at: "2026-05-04T08:30", time_zone: "Atlantic/Nowhere"
    expect(last_response.status).to eq(422)
  end

  describe "with a class" do
    def come(name, code: course.join_code)
      clear_cookies
      token = get("/sign-in").body[/name="authenticity_token" value="([^"]+)"/, 1]
      post "/sign-in", login: name, password: "4711", code: code, fresh: "1", authenticity_token: token
    end

    it "that has begun lets nobody in by the code alone, and real trainees still get in" do
      begin_attempt(instructor, trainee, mode: "practice").then do |one|
        DB[:attempts].where(id: one.id).update(class_id: course.id)
      end
      come("Wren Halloway")
      get("/work")
      expect(html).to include("Your instructor has to let you in.")
      expect(stores.classes.members(course).map(&:name)).to eq(["Teo"])
      come("Wren Halloway")
      expect(stores.classes.newcomers(course).size).to eq(1)
      come("Nobody Known")
      sign_in("ines")
      get("/classes/#{course.id}")
      expect(html).to include("Waiting to be let in", "Wren Halloway", "Nobody Known")
      wren, nobody = stores.classes.newcomers(course).sort_by(&:name).reverse
      send_form "/classes/#{course.id}/newcomers/#{wren.id}", how: "in"
      send_form "/classes/#{course.id}/newcomers/#{nobody.id}", how: "away"
      expect(stores.classes.members(course).map(&:name)).to eq(["Teo", "Wren Halloway"])
      expect(DB[:users].where(id: nobody.id).count).to eq(0)
    end

    it "that has not begun is filled by no list of invented names" do
      clock = SetClock.new.tap { |set| Clock.source = set }
      answers = Array.new(25) { |number| come("Invented #{number}").status }
      expect([answers.first(20).uniq, answers.last(3).uniq]).to eq([[302], [429]])
      clock.let_go_by(Store::Tries::RULES.fetch(:newcomer).most_s * 1000)
      expect(come("Wren Halloway").status).to eq(302)
      stores.classes.receive(course, "ask")
      clock.let_go_by(20_000)
      come("Later Comer")
      expect(stores.classes.newcomers(course).map(&:name)).to eq(["Later Comer"])
    end

    it "hides PINs until they are asked for, and keeps a bad roster's lines beside what is wrong with them" do
      stores.classes.enrol(course, [{name: "Asa Pell", pin: "48213"}])
      sign_in("ines")
      get("/classes/#{course.id}")
      expect(html).not_to include("48213")
      get("/classes/#{course.id}?pins=1")
      expect(html).to include("48213")
      file = Rack::Test::UploadedFile.new(
        StringIO.new("Una Wick,12\nVik Ode,4711\n"), "text/csv", original_filename: "roster.csv"
      )
      send_form "/classes/#{course.id}/roster", file: file
      expect(last_response.status).to eq(422)
      expect(html.index("Add to the roster")).to be < html.index("<h2>Exams</h2>")
      expect(last_response.body).to include("Una Wick,12\nVik Ode,4711", "Line 1")
    end
  end
end
