# frozen_string_literal: true

require "support/browser"

# The page asks every second what comes, and is worked meanwhile: what it asked before an act must not overrule the
# act.
RSpec.describe "Acts and polls of one page", :web, :browser do
  it "never speak of another window where there is none, however they cross" do
    attempt = at_practice
    page.execute_script(<<~JS)
      window.__said = [];
      const said = () => (document.getElementById("message") || {textContent: ""}).textContent.trim();
      new MutationObserver(() => { if (said()) window.__said.push(said()); })
        .observe(document.body, {childList: true, subtree: true, characterData: true});
    JS
    take("test_cock_4")
    # Polls leave before an act and are looked at after it.
    WorkFirst.late_s = 0.3
    24.times do |index|
      sleep 0.35 + (index % 5) * 0.17
      press(index.even? ? "Open" : "Close")
    end
    expect(page.evaluate_script("window.__said")).to eq([])
    expect(stores.attempts.find(attempt.id).last_seq).to eq(24)
  end

  it "say so where another window really did something" do
    attempt = at_practice
    other = open_new_window
    within_window(other) do
      visit "/attempts/#{attempt.id}/bench"
      operate "test_cock_3", "Open"
    end
    expect(page).to have_css("#message", text: "moved on in another window")
    expect(page).to have_css("#c_test_cock_3[aria-label='TC3, open']")
    operate "test_cock_3", "Close"
    other.close
  end

  it "let go of nothing that was typed without asking" do
    instructor = make_instructor
    sign_in("ines", "correct horse")
    visit "/stations/new?assembly=rp"
    fill_in "title", with: "Half done"
    dismiss_confirm { click_link "Classes" }
    expect(page).to have_field("title", with: "Half done")
    click_button "Save"
    expect(page).to have_no_field("title")
    expect(stores.stations.of(instructor).size).to be <= 1
  end
end
