# frozen_string_literal: true

require "support/browser"
require "socket"

# A class of twelve from an empty system, as an instructor does it, with every press of theirs counted.
RSpec.describe "A day with twelve trainees", :web, :browser do
  let(:port) { TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] } }

  before do
    stores.setup_code.current
    @server = start_server(port)
    Capybara.run_server = false
    Capybara.app_host = "http://127.0.0.1:#{port}"
    Capybara.session_name = :instructor
    @clicks = Hash.new(0)
  end

  after do
    Process.kill(:KILL, @server)
    Process.wait(@server)
    Capybara.run_server = true
    Capybara.app_host = nil
    Capybara.reset_sessions!
    Capybara.session_name = :default
  end

  # One press of the instructor's.
  def press_button(part, ...)
    @clicks[part] += 1
    click_button(...)
  end

  def press_link(part, ...)
    @clicks[part] += 1
    click_link(...)
  end

  def tick(part, *names)
    names.each do |name|
      @clicks[part] += 1
      find("input[aria-label='Take #{name}']").check
    end
  end

  def room_id = DB[:classes].get(:id)

  # A trainee with the card in hand.
  def come_in(name)
    card = DB[:users].where(name: name).get(:card_pin)
    visit "/c/#{DB[:classes].get(:join_code)}"
    fill_in "login", with: name
    fill_in "password", with: card
    click_button "Sign in"
    expect(page).to have_css("h1", text: "My work")
  end

  def begin_exam
    find(".card-work", text: "Exam", match: :first).click_link("Read and begin")
    click_button "Begin"
    expect(page).to have_css("#drawing")
  end

  def hand_in
    click_button "Report"
    report :signature, "Here"
    question = accept_confirm { click_button "Hand in" }
    expect(page).to have_text("Your instructor reviews this exam")
    question
  end

  it "takes a roster, cards, a dated exam, who is late or absent, practice for all, results and one taken back" do
    visit "/"
    {
      f_setup_code: File.read(stores.setup_code.path),
      f_name: "Ines Marr",
      f_login: "ines",
      f_password: "correct horse"
    }.each { |field, value| fill_in field.to_s, with: value }
    press_button :set_up, "Begin"
    press_link :set_up, "Classes"
    fill_in "f_name", with: "Spring testers"
    press_button :set_up, "Make the class"
    names = %w[Asa Bo Cai Dov Ede Fia Gil Hob Ilo Jun Kay Lou].map { |name| "#{name} Pell" }
    csv =
      Tempfile
        .new(%w[roster .csv])
        .tap { |file| File.write(file.path, ["name,pin", *names.first(11), "Lou Pell,12", ",4711"].join("\n")) }
    attach_file "file", csv.path
    press_button :set_up, "Add"
    expect(page).to have_css(".problems", text: "Line 13").and have_css(".problems", text: "Line 14")
    expect(page).to have_text("Nobody yet")
    File.write(csv.path, ["name,pin", *names].join("\n"))
    attach_file "file", csv.path
    press_button :set_up, "Add"
    expect(page).to have_text("12 trainees are on the roster now")
    expect(
      page.evaluate_async_script(
        "fetch(arguments[0]).then((r) => r.text()).then(arguments[1])",
        find_link("Cards (PDF)")[:href]
      )
    ).to start_with("%PDF")

    rows = stores.stations
    owner = stores.users.instructors.first
    %i[bottle_rinser ferry_quay].each do |id|
      rows.create(owner, SHIPPED.demo_stations.find { |item| item.id == id }.to_yaml)
    end
    titles = rows.of(owner).map(&:title)
    press_link :exam, "Set up an exam"
    fill_in "f_title", with: "Spring certification"
    page.execute_script(
      "document.getElementById('opens_at').value = arguments[0]",
      (Time.now.utc - 60).strftime("%Y-%m-%dT%H:%M")
    )
    tick :exam, titles.first
    press_button :exam, "Save the draft"
    # It opens by itself, by the server's second process.
    wait = Process.clock_gettime(Process::CLOCK_MONOTONIC) + 40
    sleep 0.2 until DB[:exams].get(:status) == "open" || Process.clock_gettime(Process::CLOCK_MONOTONIC) > wait
    expect(DB[:exams].get(:status)).to eq("open")
    exam = DB[:exams].get(:id)

    visit "/classes/#{room_id}"
    press_link :practice, "Give practice"
    @clicks[:practice] += 1
    check titles.last, allow_label_click: true, exact: false
    press_button :practice, "Give the benches"
    expect(page).to have_text("12 practice benches are given")

    %w[Asa Bo].each do |name|
      Capybara.using_session(name.to_sym) do
        come_in("#{name} Pell")
        expect(page).to have_css(".card-work", count: 2)
        begin_exam
        operate "test_cock_4", "Open"
      end
    end
    # One comes late, and stands on no roster yet.
    Capybara.using_session(:late) do
      visit "/c/#{DB[:classes].get(:join_code)}"
      fill_in "login", with: "Mo Quist"
      fill_in "password", with: "2468"
      click_button "Sign in"
      click_button "I am new here"
      expect(page).to have_css("h1", text: "My work")
      expect(page).to have_text("Your instructor has to let you in")
    end
    visit "/exams/#{exam}/room"
    expect(page).to have_css(".late", text: "Mo Quist")
    press_button :late, "Let them in"
    expect(page).to have_text("Everybody on the roster has benches now")
    expect(page).to have_no_css(".late")
    Capybara.using_session(:late) do
      visit "/work"
      begin_exam
    end
    press_button :time, "+5 min for all"
    expect(page).to have_text("5 minutes more for every bench")
    expect(Capybara.using_session(:Asa) { hand_in }).to include("no reading").and include("no verdict")
    Capybara.using_session(:Bo) { hand_in }

    press_link :close, "Close the exam…"
    expect(page).to have_css("dd", text: "Mo Quist").and have_css("dd", text: "Kay Pell").and have_css(
      "dd",
      text: "Asa Pell, Bo Pell"
    )
    press_button :close, "Close it, and hand in 1 at work"
    expect(page).to have_text("10 benches never begun stay out of marks")
    expect(page).to have_button("Publish all 3", wait: 60)
    accept_confirm { press_button :publish, "Publish all 3" }
    expect(page).to have_text("3 results are published")
    visit "/attempts/#{DB[:attempts].where(mode: "exam", status: "published").get(:id)}/result"
    press_button :publish, "Take back"
    expect(page).to have_text("Taken back")
    expect(DB[:attempts].where(mode: "exam").group_and_count(:status).as_hash(:status, :count)).to eq(
      "published" => 2,
      "submitted" => 1,
      "absent" => 10
    )
    visit "/classes/#{room_id}/items"
    expect(page).to have_text("from 3 graded attempts")

    # Before: 7 to set up and open an exam, 72 to give practice to twelve.
    expect(@clicks).to eq(set_up: 5, exam: 3, practice: 3, late: 1, time: 1, close: 2, publish: 2)
  end
end
