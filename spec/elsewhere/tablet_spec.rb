# frozen_string_literal: true

require "spec_helper"
require "support/two_machines"
require "fileutils"
require "json"
require "tmpdir"

# A trainee's tablet is another machine: it knows nothing but an address and a card.
RSpec.describe "A tablet on another machine" do
  around do |example|
    Dir.mktmpdir("nurv-elsewhere") do |folder|
      @folder = folder
      @machines = TwoMachines.new
      example.run
    ensure
      @machines&.take_down
    end
  end

  # A centre's server as bin/serve starts it, with a class of one and a practice bench for her.
  #
  # @return [Hash] code and PIN, as on the card
  def serve(**settings)
    @environment = {
      "APP_ENV" => "production",
      "NURV_DATABASE" => nil,
      "SESSION_SECRET" => nil,
      "NURV_HOME" => @folder,
      "PORT" => "9292",
      "WEB_CONCURRENCY" => "0",
      "PUMA_THREADS" => "3",
      "NURV_WORKER" => "1",
      "RUBYOPT" => "--yjit",
      **settings.transform_keys(&:to_s)
    }
    script = <<~RUBY
      require "./config/boot"
      owner = STORES.users.create_first(name: "Ines Marr", login: "ines", password: "correct horse")
      course = STORES.classes.create(owner, "Spring testers")
      STORES.classes.enrol(course, [{name: "Asa Pell", pin: nil}])
      member = STORES.classes.members(course).first
      rows = STORES.stations
      row = rows.find(owner, rows.create(owner, File.read(Dir["data/demo/stations/*.yml"].min)))
      policy = STORES.policies.of(owner)["standard"]
      STORES.attempts.create_many([row], [member], instructor: owner, policy: policy, course: course)
      puts JSON.generate(code: course.join_code, pin: member.card_pin)
    RUBY
    output, status = Open3.capture2e(@environment, RbConfig.ruby, "-e", script, chdir: TwoMachines::ROOT)
    raise output unless status.success?

    @machines.at_server(@environment, "bundle", "exec", "puma", "-C", "config/puma.rb", "config.ru")
    JSON.parse(output.lines.last, symbolize_names: true)
  end

  def work_from_the_tablet(url, card)
    environment = {
      "NURV_ELSEWHERE" => url,
      "NURV_CODE" => card[:code],
      "NURV_PIN" => card[:pin],
      "NURV_EXAMPLES" => nil,
      "NURV_FLAGS" => JSON.generate(@machines.browser_flags)
    }
    output, status =
      @machines.at_tablet(
        environment,
        "bundle",
        "exec",
        "rspec",
        "--options",
        File::NULL,
        "-I",
        "spec",
        "-r",
        "spec_helper",
        "spec/elsewhere/on_the_tablet.rb"
      )
    expect(status).to be_success, "#{@machines.note}\n#{output}"
  end

  it "joins by the address and works a bench, over plain HTTP" do
    card = serve(HOST: "0.0.0.0")
    work_from_the_tablet("http://#{@machines.host}:9292", card)
  end

  it "does the same through Caddy, over HTTPS with secure cookies" do
    unless ENV["PATH"].split(":").any? { |folder| File.executable?(File.join(folder, "caddy")) }
      skip "no Caddy on this machine"
    end

    card = serve(HOST: "127.0.0.1", APP_HTTPS: "1", NURV_PROXY: "127.0.0.1", NURV_URL: "https://#{@machines.host}")
    @machines.at_server(
      {"NURV_NAME" => @machines.host, "XDG_DATA_HOME" => @folder, "XDG_CONFIG_HOME" => @folder, "HOME" => @folder},
      "caddy",
      "run",
      "--config",
      "deploy/Caddyfile",
      "--adapter",
      "caddyfile"
    )
    work_from_the_tablet("https://#{@machines.host}", card)
  end
end
