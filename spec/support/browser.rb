# frozen_string_literal: true

require_relative "web"
require_relative "served"
require_relative "page_hands"
require "net/http"
# The driver's own pauses after a click and a visit: specs wait for what they need.
ENV["FERRUM_CLICK_WAIT"] ||= "0"
ENV["FERRUM_GOTO_WAIT"] ||= "0"
require "capybara/rspec"
require "capybara/cuprite"

CHROMIUM =
  [
    ENV["CHROMIUM"],
    "/usr/lib/chromium/chromium-headless-shell",
    "/usr/lib/chromium/chromium",
    "/usr/bin/chromium"
  ].compact.find { |path| File.executable?(path) }
AXE = File.read(File.expand_path("../vendor/axe.min.js", __dir__))
# Notes what the content policy refuses. With the cookie of a set clock, the page's clock stands still as the server's
# does, and the page asks for nothing by itself: a spec moves both, so it does not matter how busy the machine is.
PROBE = <<~JS
  if (document.cookie.includes("set_clock=1")) {
    window.__now = 1000;
    performance.now = () => window.__now;
    const held = (event) => { if (event.detail.elt.id === "frames") event.preventDefault(); };
    document.addEventListener("htmx:confirm", held);
  }
  window.__csp = [];
  document.addEventListener("securitypolicyviolation", (event) =>
    window.__csp.push(`${event.violatedDirective} ${event.blockedURI} line ${event.lineNumber}`));
JS

Capybara.app = WorkFirst.new(Rack::Builder.parse_file(File.expand_path("../../config.ru", __dir__)))
Capybara.server = :puma, {Silent: true, Threads: "0:5"}
Capybara.server_host = "127.0.0.1"
# Long, for a loaded machine; what is there is found at once.
Capybara.default_max_wait_time = 15
Capybara.register_driver(:chromium) do |app|
  flags = {
    "disable-gpu" => nil,
    "disable-quic" => nil,
    "force-prefers-reduced-motion" => nil,
    "force-device-scale-factor" => 1,
    "host-resolver-rules" => "MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost"
  }
  flags["no-sandbox"] = nil if Process.uid.zero?
  Capybara::Cuprite::Driver.new(
    app,
    browser_path: CHROMIUM,
    window_size: [1280, 800],
    process_timeout: 30,
    timeout: 90,
    js_errors: true,
    extensions: [{source: PROBE}],
    browser_options: flags
  )
end
Capybara.default_driver = Capybara.javascript_driver = :chromium

# A tester's hands in a browser: works the controls on the page and nothing else.
module BrowserBench
  def sign_in(login, password)
    visit "/sign-in?as=instructor"
    fill_in "login", with: login
    fill_in "password", with: password
    click_button "Sign in"
    expect(page).to have_button("Sign out")
  end

  # A trainee at a practice bench.
  #
  # @return [Store::Attempt]
  def at_practice(station: :bottle_rinser, **changes)
    attempt = begin_attempt(make_instructor, make_trainee, station: station, mode: "practice", **changes)
    sign_in("teo", "1234")
    visit "/attempts/#{attempt.id}/bench"
    expect(page).to have_css("#drawing")
    attempt
  end

  def seq = find("#frames", visible: :all)["data-seq"].to_i

  # Does something that is an act, and waits until the server has acknowledged it.
  def acknowledged
    before = seq
    yield
    expect(page.evaluate_async_script(ACKNOWLEDGED, before + 1)).to be(true),
      -> { "act #{before + 1} was not acknowledged: #{page.find("#message", visible: :all).text}" }
  end

  # Waits in the page itself, which costs one question where looking again and again costs dozens.
  ACKNOWLEDGED = <<~JS
    const [wanted, done] = arguments;
    const frames = () => document.getElementById("frames");
    const there = () => Boolean(frames()) && Number(frames().dataset.seq) === wanted;
    if (there()) return done(true);
    const watch = new MutationObserver(() => { if (there()) { watch.disconnect(); done(true); } });
    watch.observe(document.body, {childList: true, subtree: true, attributes: true, attributeFilter: ["data-seq"]});
    setTimeout(() => { watch.disconnect(); done(there()); }, 12000);
  JS

  def take(control) =
    find("#c_#{control}").evaluate_script("this.dispatchEvent(new MouseEvent('click', {bubbles: true}))")

  def press(label) = acknowledged { within("#hands [data-hand]:not([hidden])") { click_button(label, exact: true) } }

  def operate(control, label)
    take(control)
    press(label)
  end

  def look_at(*things)
    click_button "Look around", exact: true
    things.each { |thing| acknowledged { find("#look_#{thing}").click } }
  end

  def say(person, topic)
    click_button "People", exact: true
    acknowledged { find("#tell_#{person}_#{topic}").click }
  end

  def jot(item, value)
    click_button "Notebook", exact: true
    select item, from: "jot_item"
    fill_in "jot_value", with: value
    acknowledged { click_button "Jot" }
  end

  def report(field, value)
    acknowledged do
      input = find("#f_#{field}")
      if input.tag_name == "select"
        input.find("option[value='#{value}'], option", text: nil, match: :first).then { choose_option(field, value) }
      else
        input.set(value) && input.send_keys(:tab)
      end
    end
  end

  def choose_option(field, value)
    page.execute_script(<<~JS, field, value)
      const select = document.getElementById("f_" + arguments[0]);
      select.value = arguments[1];
      select.dispatchEvent(new Event("change", {bubbles: true}));
    JS
  end

  # What the needle on the page shows now, read off its angle.
  def needle_shown
    angle = page.evaluate_script("document.querySelector('[data-needle]').getAttribute('transform')")[/-?[\d.]+/].to_f
    (angle + 135.0) / 18.0
  end

  # Lets time go by on the server and on the page alike, as often as a page would ask what comes.
  #
  # @param looking [Boolean] the page is asked to draw how it stands then; otherwise only often enough to be there
  def let_go_by(milliseconds, step: 10_000, looking: true)
    while milliseconds.positive?
      part = [milliseconds, step].min
      Clock.source.let_go_by(part)
      page.execute_script("window.__now += arguments[0]", part)
      milliseconds -= part
      ask_for_frames if looking || milliseconds.positive?
    end
  end

  def ask_for_frames
    page.evaluate_async_script(<<~JS)
      const done = arguments[0];
      const seq = document.getElementById("frames").dataset.seq;
      const drawn = () => requestAnimationFrame(() => requestAnimationFrame(done));
      const path = `/attempts/${document.getElementById("bench").dataset.attempt}/frames?seq=${seq}`;
      htmx.ajax("GET", path, {target: "#frames", swap: "outerHTML"}).then(drawn);
    JS
  end

  def pass(seconds) = let_go_by((seconds * 1000).round)

  def wait_steady
    last = needle_shown
    still = 0
    40.times do
      pass(0.4)
      now = needle_shown
      still = ((now - last).abs < 0.008) ? still + 1 : 0
      last = now
      return now if still >= 6
    end
    last
  end

  # A server of its own process on this database, which can be killed.
  def start_server(port) =
    Served.start(
      port,
      APP_ENV: "test",
      NURV_DATABASE: SETTINGS.database,
      NURV_WORKER: "1",
      SESSION_SECRET: SETTINGS.session_secret
    )

  # Carries a log out by the page's own controls, each act at its own moment.
  def carry_out(log)
    began_ms = Clock.wall_ms
    log.each do |action|
      let_go_by(action.at_ms - (Clock.wall_ms - began_ms), looking: false)
      (action.kind == :submit) ? accept_confirm { click_button "Hand in" } : by_hand(action)
    end
  end

  # Does an act by pressing what can be seen on the page, in one question to the browser, and waits until it is
  # acknowledged.
  def by_hand(action)
    done = page.evaluate_async_script(GESTURES, PageHands.gestures(action))
    expect(done).to eq("acknowledged"), -> { "#{action.to_json}: #{done}" }
  end

  GESTURES = File.read(File.expand_path("gestures.js", __dir__))

  def axe_violations(tags = %w[wcag2a wcag2aa wcag21a wcag21aa wcag22aa])
    page.execute_script(AXE) unless page.evaluate_script("!!window.axe")
    page.evaluate_async_script(<<~JS, tags)
      const [tags, done] = [arguments[0], arguments[arguments.length - 1]];
      axe.run(document, {runOnly: tags, resultTypes: ["violations"]}).then((r) =>
        done(r.violations.map((v) => ({id: v.id, nodes: v.nodes.map((n) => n.target.join(" "))}))));
    JS
  end

  SIZES = File.read(File.expand_path("sizes.js", __dir__))

  # @return [Array<String>] what is under 44 px on a touch screen
  def too_small_for_fingers
    touched = ->(on) { page.driver.browser.page.command("Emulation.setTouchEmulationEnabled", enabled: on) }
    touched.call(true)
    page.execute_script(SIZES)
    page.evaluate_script("__sizes.small()")
  ensure
    touched.call(false)
  end

  # @param width_px [Integer] of a window 400 px high
  # @return [Array] what is cut there, and by how many pixels the page is wider
  def lost_at(width_px)
    page.driver.resize(width_px, 400)
    page.execute_script(SIZES)
    over = page.evaluate_script("__sizes.over()")
    [*page.evaluate_script("__sizes.cut()"), *("#{over} px wider" if over.positive?)]
  ensure
    page.driver.resize(1280, 800)
  end
end

RSpec.configure do |config|
  config.include BrowserBench, :browser
  config.before(:each, clock: :set) do
    Clock.source = SetClock.new
    page.driver.set_cookie("set_clock", "1", domain: "127.0.0.1")
  end
  config.define_derived_metadata(:browser) { |meta| meta[:type] = :feature }
end
