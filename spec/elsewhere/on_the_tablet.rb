# frozen_string_literal: true

# The tablet's part of tablet_spec.rb: run there, on the other machine. It has a browser, an address and a card.
require "json"
require "net/http"
require "openssl"
require "capybara/rspec"
require "capybara/cuprite"

url = ENV.fetch("NURV_ELSEWHERE")
chromium =
  [
    ENV["CHROMIUM"],
    "/usr/lib/chromium/chromium-headless-shell",
    "/usr/lib/chromium/chromium",
    "/usr/bin/chromium"
  ].compact.find { |path| File.executable?(path) }
Capybara.run_server = false
Capybara.app_host = url
Capybara.default_max_wait_time = 15
Capybara.register_driver(:tablet) do |app|
  flags = {
    "disable-gpu" => nil,
    "disable-quic" => nil,
    "ignore-certificate-errors" => nil,
    **JSON.parse(ENV.fetch("NURV_FLAGS", "{}"))
  }
  flags["no-sandbox"] = nil if Process.uid.zero?
  Capybara::Cuprite::Driver.new(
    app,
    browser_path: chromium,
    window_size: [1280, 800],
    process_timeout: 60,
    timeout: 30,
    js_errors: true,
    browser_options: flags
  )
end
Capybara.default_driver = Capybara.javascript_driver = :tablet

RSpec.describe "On the tablet", type: :feature do
  # Caddy's own authority is made when it starts, so its certificate is not known here.
  def answer(address)
    uri = URI(address)
    Net::HTTP.start(
      uri.host,
      uri.port,
      use_ssl: uri.scheme == "https",
      verify_mode: OpenSSL::SSL::VERIFY_NONE
    ) { |http| http.get(uri.path) }
  end

  def wait_for_the_server(address)
    120.times do
      return if address.include?("classroom.test") || answer("#{address}/health").code == "200"
      sleep 0.5
    rescue SystemCallError, OpenSSL::SSL::SSLError, EOFError
      sleep 0.5
    end
    raise "no server at #{address}"
  end

  def seq = find("#frames", visible: :all)["data-seq"].to_i

  def press(control, label)
    before = seq
    find("#c_#{control}").click
    within("#hands [data-hand]:not([hidden])") { click_button(label, exact: true) }
    expect(page).to have_css("#frames[data-seq='#{before + 1}']", visible: :all)
  end

  it "comes in with the card and turns valves" do
    wait_for_the_server(url)
    visit "/c/#{ENV.fetch("NURV_CODE")}"
    expect(page).to have_css("h2", text: "Spring testers")
    fill_in "login", with: "asa pell"
    fill_in "password", with: ENV.fetch("NURV_PIN")
    click_button "Sign in"
    click_link "Read and begin"
    click_button "Begin"
    expect(page).to have_css("#drawing")
    press "test_cock_4", "Open"
    press "test_cock_3", "Open"
    expect(page).to have_css("#c_test_cock_4[aria-label='TC4, open']")
    expect(page).to have_no_css(".message-refused")
    expect(page.evaluate_script("window.isSecureContext")).to be(url.start_with?("https"))
    if url.start_with?("https")
      expect(page.driver.cookies.values.select { |cookie| cookie.name.start_with?("nurv") }).to all(be_secure)
      expect(answer("#{url}/sign-in")["strict-transport-security"]).to include("max-age")
    else
      expect(answer("#{url}/sign-in")["strict-transport-security"]).to be_nil
    end
  end
end
