# frozen_string_literal: true

require "support/browser"

RSpec.describe "An instructor's own procedure in a browser", :web, :browser, clock: :set do
  let(:instructor) { make_instructor }
  let(:trainees) { %w[teo asa].map { |login| make_trainee(login) } }

  # The second process's work, until what was typed last is tried.
  def try_it
    40.times do
      Work::Runner.new(stores, keeper).work_off
      return if page.has_css?("#proof .proof-good", text: "earns full marks", wait: 2)
    end
  end

  def adopt
    WorkFirst.left_alone = true
    sign_in("ines", "correct horse")
    visit "/settings/procedures/r1"
    fill_in "label", with: "The weir's way"
    select "before the hoses are bled", from: "SOV2 is closed"
    select "the assembly fails", from: "setting_leaking_shutoff"
    fill_in "own_title_0", with: "Hang the tag"
    select "after: Put the water back on, slowly, shutoffs as they were found", from: "own_after_0"
    try_it
    expect(page).to have_css("#proof .proof-good", text: "earns full marks")
    expect(page).to have_css(".proof-faults li", text: "Shutoff valve 2 leaks")
    expect(axe_violations).to eq([])
    click_button "Keep as a new version"
    expect(page).to have_text("Kept as version 1")
  end

  # An exam under what the instructor has adopted, and its benches.
  def exam_under_it
    policy = stores.policies.with_procedures(instructor, SHIPPED.policies.fetch(:standard))
    exam = make_exam(instructor, make_class(instructor, *trainees), :bottle_rinser, **policy.data)
    stores.exams.open(exam, trainees)
    stores.attempts.of_exam(exam)
  end

  # Works at a bench by hand, and comes back with the grade that was worked out.
  def work(attempt, login, log)
    Capybara.reset_sessions!
    page.driver.set_cookie("set_clock", "1", domain: "127.0.0.1")
    sign_in(login, "1234")
    visit "/attempts/#{attempt.id}/bench"
    expect(page).to have_text("R1 · The weir's way").and have_text("before the hoses are bled")
    expect(page).to have_text("Hang the tag")
    click_button "Begin"
    expect(page).to have_css("#drawing")
    carry_out(log)
    expect(page).to have_text("handed in", normalize_ws: true).or have_text("Handed in")
    stores.grades.computed(stores.attempts.find(attempt.id))
  end

  def login_of(attempt) = trainees.find { |user| user.id == attempt.trainee_id }.login

  it "is copied, tried, kept and examined by; who works to another loses what differs" do
    instructor
    adopt
    adopted = SHIPPED.procedures.fetch(:r1).adjusted(stores.policies.overlays(instructor).fetch(:r1))
    one, other = exam_under_it
    mine = work(one, login_of(one), Nurv::Expert::Truth.of(one.variant, adopted).run.log)
    expect([mine.score, mine.mistakes]).to eq([100.0, []])
    as_shipped = Nurv::Expert::Truth.of(other.variant, SHIPPED.procedures.fetch(:r1)).run.log
    graded = work(other, login_of(other), as_shipped)
    expect(graded.mistakes).to eq(%i[other_school own_step_missed])
    expect(graded.score).to be_between(95.0, 99.0)
  end
end
