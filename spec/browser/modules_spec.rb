# frozen_string_literal: true

require "support/browser"

RSpec.describe "Modules of the page", :web, :browser, clock: :set do
  # Asks a module of the page something, in the page.
  #
  # @param body [String] an expression of `m`, the module, and `given`
  def ask(name, body, *given)
    page.evaluate_async_script(<<~JS, Web::Middleware::Assets.path("js/#{name}.js"), given)
      const [path, given, done] = arguments;
      import(path).then((m) => done(#{body}), (error) => done(String(error)));
    JS
  end

  before { visit "/help" }

  # A word stands up to the moment of the next, and the next from just after it.
  it "reads keyframes straight between numbers, and lets a word stand until the next" do
    at = ->(points, ms) { ask("keyframes", "m.at(given[0], given[1])", points, ms) }
    needle = [[1_000, 2.0], [2_000, 4.0], [2_000, 5.0], [3_000, 5.0]]
    expect([0, 1_000, 1_500, 2_500, 9_000].map { |ms| at.call(needle, ms) }).to eq([2, 2, 3, 5, 5])
    port = [[1_000, "dry"], [2_000, "drip"], [3_000, "stream"]]
    expect([500, 2_000, 2_001, 3_000, 3_001].map { |ms| at.call(port, ms) }).to eq(%w[dry dry drip drip stream])
  end

  it "takes a skip of time at once, smooths jitter away, and stands still with the exam" do
    page.execute_script("window.__now = 10000")
    now = ->(ms, paused = false) { ask("clock", "(m.setClock(given[0], given[1]), m.simNow())", ms, paused) }
    expect(now.call(5_000)).to eq(5_000)
    # A tenth of a jitter of half a second.
    expect(now.call(5_500)).to be_within(0.01).of(5_050)
    expect(now.call(65_000)).to eq(65_000)
    expect(now.call(66_000, true)).to eq(66_000)
    page.execute_script("window.__now += 3000")
    expect(ask("clock", "m.simNow()")).to eq(66_000)
  end

  it "hears as much as runs, a drop by itself, and never louder than a few jets" do
    loud = ->(*words) { ask("sound", "m.heard(given[0]).hiss", words) }
    levels = %w[dry drip trickle stream jet].map { |word| loud.call(word) }
    expect(levels).to eq(levels.sort)
    expect(levels.first(2)).to eq([0, 0])
    expect(levels.drop(1).uniq.size).to eq(4)
    expect(loud.call("stream", "jet")).to be > levels.last
    expect(loud.call(*(["jet"] * 9))).to be < 0.25
    drops = ->(*words) { ask("sound", "m.heard(given[0]).drops", words) }
    expect([drops.call("dry", "jet"), drops.call("dry", "drip")]).to eq([false, true])
  end

  it "is silent until one asks, then hisses while a cock runs" do
    at_practice(station: :bottle_rinser)
    operate "test_cock_4", "Open"
    pass 2
    expect(find("#sound")["aria-pressed"]).to eq("false")
    expect(page).to have_no_css("#sound[data-hiss]")
    click_button "Sound", exact: true
    expect(page).to have_css("#sound[aria-pressed=true][data-hiss='0.120']")
    operate "test_cock_4", "Close"
    pass 3
    expect(page).to have_css("#sound[data-hiss='0.000']")
    click_button "Sound", exact: true
    expect(find("#sound")["aria-pressed"]).to eq("false")
  end

  # What an answer says was so when it came, however long the page is busy with it.
  it "counts from when an answer came" do
    page.execute_script("window.__now = 1000")
    ask("clock", "m.arrived()")
    page.execute_script("window.__now = 1400")
    expect(ask("clock", "(m.setClock(7000, false), m.simNow())")).to eq(7_400)
  end

  it "says minutes as a clock does" do
    said = [-5, 999, 61_000, 600_500].map { |ms| ask("page", "m.minutes(given[0])", ms) }
    expect(said).to eq(%w[0:00 0:00 1:01 10:00])
  end

  it "come from a path that changes with them, to be kept for ever" do
    path = page.evaluate_script("document.querySelector('script[type=module]').src")
    answer = page.evaluate_async_script(<<~JS, path)
      fetch(arguments[0]).then((a) => arguments[1]([a.status, a.headers.get("cache-control")]));
    JS
    expect(answer).to eq([200, Web::Middleware::Assets::FOR_EVER])
    old = path.sub(%r{/a/\h+/}, "/a/000000000000/")
    answer = page.evaluate_async_script(<<~JS, old)
      fetch(arguments[0]).then((a) => arguments[1]([a.status, a.headers.get("cache-control")]));
    JS
    expect(answer).to eq([200, "no-cache"])
    icon = "#{URI.join(path, "/")}favicon.svg"
    answer = page.evaluate_async_script(<<~JS, icon)
      fetch(arguments[0]).then((a) => arguments[1]([a.status, a.headers.get("content-type")]));
    JS
    expect(answer).to eq([200, "image/svg+xml"])
  end
end
