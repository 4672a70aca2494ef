# frozen_string_literal: true

require "support/browser"

RSpec.describe "Pages in a browser", :web, :browser do
  let(:instructor) { make_instructor }
  let(:trainee) { make_trainee }

  def audited(path)
    visit path if path
    expect(page).to have_css("main", wait: 60)
    # A button is pale while what it asked for is on its way.
    expect(page).to have_no_css(".htmx-request")
    violations = axe_violations
    expect(violations).to eq([]), "#{path}: #{violations.inspect}"
    expect(page.evaluate_script("window.__csp")).to eq([])
    expect([path, too_small_for_fingers]).to eq([path, []])
    # At 1280 px and twice the size.
    expect([path, lost_at(640)]).to eq([path, []])
  end

  it "pass an automated accessibility audit and keep to the content policy" do
    station = make_station(instructor)
    over = begin_attempt(instructor, trainee, mode: "practice")
    keeper.of(over).act(over, {kind: "submit"}, id: "s", known_seq: 0, seen_ms: 0, wall_ms: Clock.wall_ms)
    open = begin_attempt(instructor, trainee)
    fresh = make_attempt(instructor, trainee)
    %w[/sign-in /help /about].each { |path| audited(path) }
    sign_in("ines", "correct horse")
    ["/today", "/stations", "/stations/#{station.id}", "/attempts/#{over.id}/result"].each { |path| audited(path) }
    click_button "Sign out"
    sign_in("teo", "1234")
    ["/work", "/attempts/#{fresh.id}/start", "/attempts/#{open.id}/bench"].each { |path| audited(path) }
    look_at "plate"
    take "low_bleed"
    audited(nil)
    find("#eyes_relief_port").click
    expect(page).to have_css("#live.eyes-away", visible: :all)
    audited(nil)
    click_button "Keys"
    audited(nil)
    click_button "Back to the bench", match: :first
    click_button "Report"
    audited(nil)
  end

  it "pass the audit on every page of an instructor's day" do
    course = make_class(instructor, trainee)
    station = make_station(instructor)
    exam = make_exam(instructor, course, :bottle_rinser, :ferry_quay)
    stores.exams.open(exam, [trainee])
    first, second = stores.attempts.of_exam(exam)
    demo.play(first, slip: Benches::Demo::SLIPS[3])
    demo.play(second, share: 0.5)
    practice = begin_attempt(instructor, trainee, mode: "practice")
    proctored = make_attempt(instructor, trainee, mode: "proctor")
    stores.audits.note(instructor, "did", "something", "here")
    stores.boards.show(course, begin_attempt(instructor, instructor, mode: "practice"))
    stores.boards.ask_class(stores.boards.of(course), :needle, 0)
    sign_in("ines", "correct horse")
    [
      "/today",
      "/classes",
      "/classes/#{course.id}",
      "/classes/#{course.id}/exams/new",
      "/classes/#{course.id}/gradebook",
      "/classes/#{course.id}/join",
      "/classes/#{course.id}/practice",
      "/classes/#{course.id}/members/#{trainee.id}",
      "/exams/#{exam.id}/close",
      "/exams/#{exam.id}/extend",
      "/exams/#{exam.id}/publish",
      "/classes/#{course.id}/items",
      "/stations",
      "/stations/#{station.id}/edit",
      "/exams/#{exam.id}",
      "/exams/#{exam.id}/room",
      "/exams/#{exam.id}/regrade",
      "/practice-room",
      "/attempts/#{practice.id}/watch",
      "/attempts/#{practice.id}/display",
      "/review",
      "/attempts/#{first.id}/result",
      "/attempts/#{first.id}/report",
      "/proctor",
      "/proctor/#{proctored.id}",
      "/proctor/#{proctored.id}/gauge",
      "/settings",
      "/settings/procedures/r1",
      "/settings/audit",
      "/reference",
      "/lab",
      "/lab/cases",
      "/classes/#{course.id}/skills",
      "/classes/#{course.id}/board",
      "/classes/#{course.id}/board/show",
      "/findings/new"
    ].each { |path| audited(path) }
    click_button "Sign out"
    audited("/sign-in")
    audited("/c/#{course.join_code}")
  end

  it "tell a trainee that the exam is paused, and that it goes on", clock: :set do
    course = make_class(instructor, trainee)
    exams = stores.exams
    exam = make_exam(instructor, course, :bottle_rinser)
    exams.open(exam, [trainee])
    attempt = stores.attempts.of_exam(exam).first
    wall_ms = -> { Clock.wall_ms }
    stores.attempts.begin(attempt, wall_ms.call)
    sign_in("teo", "1234")
    visit "/attempts/#{attempt.id}/bench"
    expect(page).to have_css("#drawing")
    pass 2
    expect(page).to have_css("#clock", text: "0:02")
    exams.pause(exam, wall_ms.call)
    pass 2
    expect(page).to have_css("#bench_state", text: "The exam is paused")
    expect(find("#clock").text).to eq("0:02")
    exams.resume(exam, wall_ms.call)
    pass 3
    expect(page).to have_css("#clock", text: "0:05")
    expect(page).to have_no_css("#bench_state", text: "paused")
    operate "test_cock_4", "Open"
  end

  it "show pressures inside and hints in practice, and neither in an exam" do
    practice = begin_attempt(instructor, trainee, mode: "practice")
    sign_in("teo", "1234")
    visit "/attempts/#{practice.id}/bench"
    expect(page).to have_no_css("[data-inside='inlet']")
    click_button "Inside"
    expect(page).to have_css("[data-inside='inlet']", text: /\A(59|60)\.\d\z/)
    expect(page).to have_css("[data-inside='zone']", text: /\A5[12]\.\d\z/)
    click_button "What now?"
    expect(page).to have_css("#coach", text: "Who should hear something from you")
    expect(page).to have_no_css("#coach", text: "Ask before you shut the water off")
    click_button "Why?"
    expect(page).to have_css("#coach", text: "Ask before you shut the water off")
    click_button "Tell me"
    expect(page).to have_css("#coach .coach-act", text: "Say to the people of the site: “I need to shut")
    click_button "Why does the needle do that?"
    expect(page).to have_css("#coach", text: "The needle stands at 0.0 psid")
    click_button "nudges"
    operate "test_cock_4", "Open"
    expect(page).to have_css("#coach .coach-ask", text: "?")
    exam = begin_attempt(instructor, trainee, station: :ferry_quay)
    visit "/attempts/#{exam.id}/bench"
    expect(page).to have_css("#drawing")
    expect(page).to have_no_button("Inside").and have_no_css("#coach").and have_no_button("Let 30 s go by")
    expect(page).to have_no_css("[data-inside]", visible: :all)
  end

  it "let one work by keyboard alone" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    visit "/attempts/#{attempt.id}/bench"
    expect(page).to have_css("#drawing")
    body = find("body")
    acknowledged { body.send_keys("4", "9") }
    expect(page).to have_css("#c_test_cock_4[aria-label='TC4, open']")
    acknowledged { body.send_keys("l", "+") }
    expect(page).to have_css("#c_low_bleed[aria-label='Low bleed, ⅛ turn open']")
    acknowledged { body.send_keys("4", "0") }
    expect(page).to have_css("#c_test_cock_4[aria-label='TC4, closed']")
  end

  # A chip with nothing in it would lie over the drawing.
  it "show no message where there is none, and one where there is" do
    at_practice
    shown = -> { page.evaluate_script("getComputedStyle(document.getElementById('message')).display") }
    expect(shown.call).to eq("none")
    click_button "Let 30 s go by"
    expect(page).to have_css("#message", text: "gone by")
    expect(shown.call).not_to eq("none")
  end

  it "show the same bench at the right moment after a reload", clock: :set do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    visit "/attempts/#{attempt.id}/bench"
    operate "test_cock_4", "Open"
    jot "CV1 apparent", "7.7"
    pass 2
    expect(page).to have_css("#clock", text: "0:02")
    visit current_path
    expect(page).to have_css("#c_test_cock_4[aria-label='TC4, open']")
    expect(page).to have_css("[data-outlet='test_cock_4'].flow-jet")
    expect(page).to have_css(".notes", text: "7.7")
    expect(page).to have_css("#clock", text: "0:02")
  end

  it "keep the report's fields as they are left, through a reload" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    visit "/attempts/#{attempt.id}/bench"
    click_button "Report"
    report :serial, "KF-2"
    expect(page).to have_css("#report_status", text: "Saved")
    visit current_path
    click_button "Report"
    expect(find("#f_serial").value).to eq("KF-2")
  end

  it "show a refused act's reason and leave the bench as it was" do
    attempt = begin_attempt(instructor, trainee)
    sign_in("teo", "1234")
    visit "/attempts/#{attempt.id}/bench"
    operate "hose_high", "Put on TC2"
    take "hose_low"
    within("#hands [data-hand]:not([hidden])") { click_button "Put on TC2" }
    expect(page).to have_css("#message", text: "TC2 already has the high hose on it")
    expect(page).to have_css("#frames[data-seq='1']", visible: :all)
  end

  it "let an instructor assign a bench, watch it and publish the grade" do
    make_station(instructor, :ferry_quay)
    make_class(instructor, trainee)
    sign_in("ines", "correct horse")
    click_link "Stations"
    click_link "Truth and assign"
    expect(page).to have_text("CV2: fouled")
    select "Teo", from: "trainee_id"
    choose "mode", option: "exam"
    click_button "Assign"
    expect(page).to have_css(".state", text: "Not begun")
    attempt = stores.attempts.of_trainee(stores.users.trainees.first).first
    attempt = stores.attempts.begin(attempt, Clock.wall_ms)
    visit "/today"
    expect(page).to have_css(".state", text: "At the bench")
    demo.play(attempt, slip: Benches::Demo::SLIPS[2])
    visit "/today"
    click_link "Grade and replay"
    expect(page).to have_css(".mistake", text: "Wrong diagnosis")
    find("[data-seek]", match: :first).click
    expect(page).to have_css("#replay_scene .clock", text: "0:05")
    click_button "Publish to the trainee"
    expect(page).to have_no_button("Publish to the trainee")
  end
end
