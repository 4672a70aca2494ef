# frozen_string_literal: true

require "support/browser"

RSpec.describe "A trainee on their own, in a browser", :web, :browser do
  include Followed

  let!(:instructor) { make_instructor }
  let!(:trainee) { make_trainee }
  let!(:course) { make_class(instructor, trainee) }

  before { stores.classes.let_practise(course, %w[r1 d3]) }

  def last_bench = stores.attempts.find(DB[:attempts].max(:id))

  # As a tester who does what the coach says would have done it, up to a moment.
  def worked(attempt, upto: nil, slip: nil)
    procedure = attempt.procedures.first
    log = Nurv::Expert::Truth.of(attempt.variant, procedure).run.log.to_a
    done = stores.attempts.log(attempt).size
    acts = log.drop(done)
    acts = acts.take_while { |act| !upto.call(act) } if upto
    acts = acts.reject(&slip) if slip
    keeper.of(attempt).do_again(attempt, acts)
  end

  it "practises an unknown fault, asks why, is billed, tries a lost line again, drills, and is given a set" do
    sign_in("teo", "1234")
    click_link "Practise"
    choose "R1 · Two hoses and bypass"
    select "Check valve 2 fouled (RP, DC)", from: "wrong"
    click_button "To the bench"
    expect(page).to have_css("#coach", text: "Says nothing until you ask.")
    attempt = last_bench
    # The zone is fed, and the inside is not shown: nothing is named that lets by.
    worked(attempt, upto: ->(act) { act[:item].to_s == "relief_valve_opening" })
    visit "/attempts/#{attempt.id}/bench"
    click_button "Why does the needle do that?"
    expect(page).to have_css("#coach .coach-why", minimum: 2)
    expect(page).to have_no_css("#coach", text: "it should hold, but lets by")
    click_button "What now?"
    expect(page).to have_css("#coach .coach-ask", text: "?")
    # Everything else is done as it should be, but nobody is told that the water comes back.
    slip = ->(act) { act[:topic].to_s == "water_on" }
    worked(attempt, slip: slip)
    visit "/attempts/#{attempt.id}/result"
    expect(page).to have_css(".line-lost", text: "Say that the water is coming back", wait: 20)
    expect(page).to have_css("#trace polyline", minimum: 2, visible: :all)
    find("[data-seek]", match: :first).click
    expect(page).to have_css("#trace_value", text: /\d:\d\d needle -?\d+\.\d/)
    within(".line-lost", text: "Say that the water is coming back") { click_button "Try again from here" }
    expect(page).to have_css("#bench")
    again = last_bench
    procedure = again.procedures.first
    kept = stores.attempts.log(again)
    log = followed(again.variant, procedure, acts: kept.to_a)
    grade = marked(again.variant, log, procedure)
    expect(grade.lines.find { |line| line.id == :announce_water }).to be_full
    expect(grade.score).to eq(100.0)
    click_link "Drills"
    click_button "drill_flush_in_order"
    expect(page).to have_css(".bench-task", text: "Flush in order")
    click_button "Done"
    expect(page).to have_css(".drill-score", text: "of 100")
    9.times do
      click_button "The next one"
      expect(page).to have_css(".bench-task")
      click_button "Done"
      expect(page).to have_css(".drill-score", text: "of 100")
    end
    expect(stores.drills.of(trainee)[:flush_in_order].size).to eq(10)
    click_button "Sign out"
    sign_in("ines", "correct horse")
    visit "/classes/#{course.id}/skills"
    expect(page).to have_css(".skill-weak", minimum: 1)
    check "Teo"
    click_button "Give those chosen a set"
    expect(page).to have_text("1 have a set of 10 drills")
  end
end
