# frozen_string_literal: true

require_relative "web"
require "capybara/rspec"
require "capybara/cuprite"

CHROMIUM = [ENV["CHROMIUM"], "/usr/lib/chromium/chromium", "/usr/bin/chromium"].compact.find { |path| File.executable?(path) }
AXE = File.read(File.expand_path("../vendor/axe.min.js", __dir__))
PROBE = <<~JS
  window.__csp = [];
  document.addEventListener("securitypolicyviolation", (event) =>
    window.__csp.push(`${event.violatedDirective} ${event.blockedURI} line ${event.lineNumber}`));
JS

Capybara.app = Rack::Builder.parse_file(File.expand_path("../../config.ru", __dir__))
Capybara.server = :puma, {Silent: true, Threads: "0:5"}
Capybara.server_host = "127.0.0.1"
Capybara.default_max_wait_time = 6
Capybara.register_driver(:chromium) do |app|
  flags = {"disable-gpu" => nil, "disable-quic" => nil, "force-prefers-reduced-motion" => nil, "force-device-scale-factor" => 1,
           "host-resolver-rules" => "MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost"}
  flags["no-sandbox"] = nil if Process.uid.zero?
  Capybara::Cuprite::Driver.new(app, browser_path: CHROMIUM, window_size: [1280, 800], process_timeout: 30, timeout: 20,
    js_errors: true, extensions: [{source: PROBE}], browser_options: flags)
end
Capybara.default_driver = Capybara.javascript_driver = :chromium

# A tester's hands in a browser: works the controls on the page and nothing else.
module BrowserBench
  def sign_in(login, password)
    visit "/sign-in"
    fill_in "login", with: login
    fill_in "password", with: password
    click_button "Sign in"
    expect(page).to have_button("Sign out")
  end

  def seq = find("#frames", visible: :all)["data-seq"].to_i

  # Does something that is an act, and waits until the server has acknowledged it.
  def acknowledged
    before = seq
    yield
    expect(page).to have_css("#frames[data-seq='#{before + 1}']", visible: :all)
  end

  def take(control) = find("#c_#{control}").trigger("click")

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
      (input.tag_name == "select") ? input.find("option[value='#{value}'], option", text: nil, match: :first).then { choose_option(field, value) } : (input.set(value) && input.send_keys(:tab))
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

  def wait_for_needle(seconds: 30)
    deadline = Time.now + seconds
    until yield(needle_shown)
      raise "The needle stood at #{needle_shown}" if Time.now > deadline

      sleep 0.05
    end
    needle_shown
  end

  def wait_steady
    last = needle_shown
    still = 0
    40.times do
      sleep 0.4
      now = needle_shown
      still = ((now - last).abs < 0.008) ? still + 1 : 0
      last = now
      return now if still >= 6
    end
    last
  end

  def axe_violations(tags = %w[wcag2a wcag2aa wcag21a wcag21aa wcag22aa])
    page.execute_script(AXE) unless page.evaluate_script("!!window.axe")
    page.evaluate_async_script(<<~JS, tags)
      const [tags, done] = [arguments[0], arguments[arguments.length - 1]];
      axe.run(document, {runOnly: tags, resultTypes: ["violations"]}).then((r) =>
        done(r.violations.map((v) => ({id: v.id, nodes: v.nodes.map((n) => n.target.join(" "))}))));
    JS
  end
end

RSpec.configure do |config|
  config.include BrowserBench, :browser
  config.define_derived_metadata(:browser) { |meta| meta[:type] = :feature }
end
