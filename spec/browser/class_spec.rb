# frozen_string_literal: true

require "support/browser"
require "socket"
require "csv"

RSpec.describe "An instructor's day, from an empty system to handed-in records", :web, :browser do
  let(:port) { TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] } }

  before do
    @server = start_server(port)
    Capybara.run_server = false
    Capybara.app_host = "http://127.0.0.1:#{port}"
    # A session keeps the server it began with, so the default one is left to other specs.
    Capybara.session_name = :instructor
  end

  after do
    stop_server
    Capybara.run_server = true
    Capybara.app_host = nil
    Capybara.reset_sessions!
    Capybara.session_name = :default
  end

  def stop_server
    Process.kill(:KILL, @server) && Process.wait(@server) if @server
    @server = nil
  end

  def join(code, name, pin)
    visit "/c/#{code}"
    fill_in "login", with: name
    fill_in "password", with: pin
    click_button "Sign in"
    expect(page).to have_css("h1", text: "My work")
  end

  def attempt_of(name, position)
    id = DB[:users].where(name: name).get(:id)
    stores.attempts.find(DB[:attempts].where(trainee_id: id, position: position, mode: "exam").get(:id))
  end

  def begin_next
    click_link "Read and begin", match: :first
    expect(page).to have_text("To pass")
    click_button "Begin"
    expect(page).to have_css("#drawing")
  end

  # Fetched by the page itself, with its session.
  def fetched(path) = page.evaluate_async_script("fetch(arguments[0]).then((r) => r.text()).then(arguments[1])", path)

  def audited
    expect(axe_violations).to eq([]), page.current_path
    expect(page.evaluate_script("window.__csp")).to eq([])
  end

  it "goes from the first account to the published grade" do
    visit "/"
    fill_in "f_setup_code", with: "not-this"
    fill_in "f_name", with: "Ines Marr"
    fill_in "f_login", with: "ines"
    fill_in "f_password", with: "correct horse"
    click_button "Begin"
    expect(page).to have_text("Enter the set-up code")
    fill_in "f_setup_code", with: File.read(stores.setup_code.path).downcase
    fill_in "f_password", with: "correct horse"
    click_button "Begin"
    expect(page).to have_text("Start here")
    audited

    click_link "Classes"
    fill_in "f_name", with: "Spring testers"
    click_button "Make the class"
    code = find(".join-code").text
    fill_in "f_roster", with: "name,pin\nAsa Pell,\nBo Quill,12\n"
    click_button "Add"
    expect(page).to have_css(".problems", text: "Line 3")
    expect(find("#f_roster").value).to include("Bo Quill,12")
    expect(page).to have_text("Nobody yet")
    audited
    fill_in "f_roster", with: "name,pin\nAsa Pell,4821\nBo Quill,7755\n"
    click_button "Add"
    expect(page).to have_text("2 trainees are on the roster now")

    click_link "Stations"
    click_link "New RP"
    fill_in "title", with: "Weak CV1 at the works"
    fill_in "n_check_valve_1", with: "6.4 to 8.8"
    select "Check valve 1 has a weak spring", from: "fault_0"
    expect(page).to have_css("#preview", text: "CV1: weak spring", wait: 15)
    audited
    select "Check valve 2 has a weak spring", from: "fault_0"
    expect(page).to have_css("#preview [role=alert]", text: "No procedure allowed here finds", wait: 15)
    select "Check valve 1 has a weak spring", from: "fault_0"
    fill_in "pressure", with: "lots"
    click_button "Save"
    expect(page).to have_css("[role=alert]", text: "should be a number from 20 to 150")
    expect(find("#pressure").value).to eq("lots")
    fill_in "pressure", with: "50 to 70"
    click_button "Save"
    expect(page).to have_css("h1", text: "Weak CV1 at the works")
    click_link "Stations"
    select "R1", from: "g_procedure"
    fill_in "g_count", with: "1"
    fill_in "g_seed", with: "7"
    click_button "Make them"
    expect(page).to have_css(".work-bar")
    expect(page).to have_text("1 station made from seed 7", wait: 40)

    click_link "Classes"
    click_link "Spring testers"
    click_link "Set up an exam"
    fill_in "f_title", with: "Spring certification"
    find("input[aria-label='Take Weak CV1 at the works']").check
    find("input[aria-label^='Take RP']").check
    audited
    click_button "Save the draft"
    expect(page).to have_text("What trainees are told")
    click_link "Open the exam…"
    click_button "Open the exam now"
    expect(page).to have_css(".tile", count: 2, text: "not begun")
    audited

    Capybara.using_session(:asa) do
      join(code, "Asa Pell", "4821")
      begin_next
      operate "test_cock_4", "Open"
    end
    Capybara.using_session(:bo) do
      join(code, "Bo Quill", "7755")
      begin_next
    end
    asa, bo = attempt_of("Asa Pell", 0), attempt_of("Bo Quill", 0)
    expect(asa.seed).not_to eq(bo.seed)
    # One number may come out alike for both by chance: pressure did, once in two hundred.
    expect(asa.variant.phases).not_to eq(bo.variant.phases)
    expect([asa, bo].map { |one| one.variant.pressure_psi }).to all(be_between(50.0, 70.0))
    expect(page).to have_css(".tile", text: "connected", count: 2)
    expect(page).to have_css(".tile", text: "TC4 open")

    # The server dies in the middle of the test, and comes back.
    stop_server
    Capybara.using_session(:asa) do
      take "test_cock_3"
      within("#hands [data-hand]:not([hidden])") { click_button("Open", exact: true) }
      expect(page).to have_css("#bench_state", text: "No connection")
    end
    @server = start_server(port)
    Capybara.using_session(:asa) do
      visit current_path
      expect(page).to have_css("#c_test_cock_4[aria-label='TC4, open']")
      operate "test_cock_3", "Open"
      operate "test_cock_3", "Close"
      operate "test_cock_4", "Close"
      look_at "plate", "arrow"
      say "occupant", "shutdown"
      jot "CV1 apparent", "4.2"
      click_button "Report"
      report :serial, asa.station.plate[:serial]
      accept_confirm { click_button "Hand in" }
      expect(page).to have_text("Your instructor reviews this exam")
      expect(stores.attempts.log(attempt_of("Asa Pell", 0)).of(:turn).size).to eq(4)
    end
    Capybara.using_session(:bo) do
      operate "shutoff_valve_2", "Close"
      click_button "Report"
      report :signature, "Bo Quill"
      accept_confirm { click_button "Hand in" }
      expect(page).to have_text("Your instructor reviews this exam")
    end

    visit "/exams/#{DB[:exams].get(:id)}/room"
    click_link "Close the exam…"
    expect(page).to have_text("Finished").and have_text("Not at every station")
    audited
    click_button "Close the exam"
    expect(page).to have_text("2 benches never begun stay out of marks")
    visit "/review"
    expect(page).to have_css("tbody tr", count: 2)
    expect(page).to have_no_css(".work-bar", wait: 30)
    within(all("tbody tr").find { |row| row.text.include?("Bo Quill") && row.text.include?("Weak CV1") }) do
      click_link "Grade and replay"
    end
    expect(page).to have_css(".mistake", text: "Water shut off without asking", wait: 90)
    line = find("#line_records_completeness")
    line.find("summary").click
    line.fill_in "reason", with: "Notified at the door."
    line.click_button "Override"
    expect(page).to have_css("#line_records_completeness", text: "Notified at the door.")
    expect(page).to have_css("#line_records_completeness .line-points", text: "5/5")
    audited
    expect(fetched("/attempts/#{bo.id}/score-sheet.pdf")).to start_with("%PDF")
    visit "/review"
    click_link "Publish…"
    accept_confirm { click_button "Publish all 2" }
    expect(page).to have_text("2 results are published")
    accept_confirm { click_button "Take them back" }
    expect(page).to have_text("trainees see them no more")
    accept_confirm { click_button "Publish all 2" }
    expect(page).to have_text("2 results are published")
    visit "/classes/#{DB[:classes].get(:id)}/gradebook"
    expect(page).to have_css("tbody tr", count: 4)
    audited
    click_button "CSV"
    expect(page).to have_link("Save gradebook", wait: 30)
    rows = CSV.parse(fetched(URI(find_link("Save gradebook")[:href]).path), headers: true)
    expect(rows.map { |row| [row["result"], row["state"]] }.tally).to eq(
      %w[fail published] => 2,
      [nil, "unbegun"] => 2
    )
    visit "/classes/#{DB[:classes].get(:id)}/gradebook"
    expect(rows.find { |row| row["trainee"] == "Bo Quill" && row["overridden"].to_i == 1 }).not_to be_nil
    click_link "Item analysis"
    expect(page).to have_css(".bars")
    audited

    Capybara.using_session(:asa) do
      visit "/work"
      expect(page).to have_link("See the result")
      visit "/attempts/#{asa.id}/result"
      expect(page).to have_css(".line-lost .mistake", text: "Step not done", minimum: 1)
      expect(page).to have_css(".line-lost", text: "Could not be done without this")
      find("[data-seek]", match: :first).click
      expect(page).to have_css("#replay_scene .clock")
      expect(page).to have_no_css(".line-override")
    end
  end
end
