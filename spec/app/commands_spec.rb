# frozen_string_literal: true

require "spec_helper"
require "bundler"
require "fileutils"
require "net/http"
require "open3"
require "socket"
require "tmpdir"

# The commands of the README on a machine that never saw the tests' gems: a bundle without them is laid out beside
# this one.
RSpec.describe "Commands before the test gems are there" do
  def root = File.expand_path("../..", __dir__)

  # Gems that the application runs with, as links in a folder of their own.
  def self.lean_bundle
    @lean_bundle ||=
      Dir
        .mktmpdir("nurv-lean")
        .tap do |folder|
          at_exit { FileUtils.rm_rf(folder) }
          # What the project's own configuration says of places counts before the environment.
          File.write(File.join(folder, "config"), "---\nBUNDLE_PATH: \"#{folder}\"\n")
          Bundler
            .definition
            .specs_for([:default])
            .each do |spec|
              next if spec.name == "bundler"

              home = File.join(folder, "ruby", RbConfig::CONFIG["ruby_version"])
              {
                spec.full_gem_path => "gems",
                spec.loaded_from => "specifications",
                spec.extension_dir =>
                  File.join(
                    "extensions",
                    File.basename(File.dirname(spec.extension_dir, 2)),
                    File.basename(File.dirname(spec.extension_dir))
                  )
              }.each do |source, place|
                next unless source && File.exist?(source)

                FileUtils.mkdir_p(File.join(home, place))
                FileUtils.ln_sf(source, File.join(home, place, File.basename(source)))
              end
            end
        end
  end

  def environment(**settings)
    clean =
      ENV
        .keys
        .grep(/\A(BUNDLE|RUBYOPT|RUBYLIB|GEM_|NURV|APP_ENV|SESSION|TEST_ENV|PARALLEL)/)
        .to_h { |name| [name, nil] }
    clean.merge(
      "BUNDLE_APP_CONFIG" => self.class.lean_bundle,
      "BUNDLE_FROZEN" => "true",
      "PATH" => ENV["PATH"],
      **settings.to_h { |name, value| [name.to_s, value.to_s] }
    )
  end

  def run(*command, **settings)
    Open3.capture2e(environment(**settings), *command, chdir: root)
  end

  def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }

  it "do not find them" do
    output, =
      run(
        RbConfig.ruby,
        "-e",
        "require 'bundler'; begin; Bundler.setup; puts 'there'; " \
          "rescue Bundler::GemNotFound => error; puts error.message; end"
      )
    expect(output).to match(/capybara|cuprite|rspec|nokogiri/).and satisfy { |text| !text.include?("there\n") }
  end

  it "work: the truth of a station, and the check of it" do
    station = Dir[File.join(root, "data/demo/stations/*.yml")].min
    output, status = run("bin/nurv", "truth", station)
    expect(status).to be_success, output
    expect(output).to include("CV1 confirmed")
    expect(run("bin/nurv", "check", station)[1]).to be_success
  end

  it "work on an empty folder: serve, health, a copy, and the copy put back" do
    Dir.mktmpdir do |folder|
      port = free_port
      log = File.join(folder, "log")
      home = File.join(folder, "centre")
      server =
        Process.spawn(
          environment(PORT: port, HOST: "127.0.0.1", WEB_CONCURRENCY: 0, BUNDLE_WITHOUT: "development:test"),
          "bin/serve",
          home,
          chdir: root,
          out: log,
          err: log
        )
      answer = nil
      400.times do
        break if (answer = Net::HTTP.get_response(URI("http://127.0.0.1:#{port}/health"))).code == "200"
      rescue SystemCallError
        sleep 0.2
      end
      expect(answer&.body).to include('"ok":true'), File.read(log)
      said = 300.times { sleep 0.1 unless File.read(log).include?("set-up code") } && File.read(log)
      expect(said).to match(/set-up code, once:   [A-Z0-9]{4}-[A-Z0-9]{4}/).and include(home)
      expect(Net::HTTP.get_response(URI("http://127.0.0.1:#{port}/"))["location"]).to eq("/sign-in")

      copy, status = run("bin/backup", NURV_HOME: home)
      expect(status).to be_success, copy
      file = Dir[File.join(home, "backups/*.sqlite3")].first
      expect(copy).to include(file).and include("sound")
      output, status = run("bin/restore", file, NURV_HOME: home)
      expect(status).to be_success, output
      expect(Net::HTTP.get_response(URI("http://127.0.0.1:#{port}/health")).code).to eq("200")

      # Old copies go, new ones stay; the database's own folder is for nobody else.
      old = File.join(home, "backups/nurv-20200101-000000.sqlite3")
      FileUtils.cp(file, old)
      File.utime(0, 0, old)
      sleep 1.1
      run("bin/backup", "--keep", "14", NURV_HOME: home)
      expect([File.exist?(old), File.exist?(file)]).to eq([false, true])
      expect(Dir[File.join(home, "**/*.sqlite3*")].map { |path| File.stat(path).mode & 0o077 }).to all(eq(0))
    ensure
      Process.kill(:TERM, server) && Process.wait(server) if server
    end
  end

  it "say in one line what is missing" do
    [
      [["bin/backup"], {NURV_HOME: "/nonexistent/folder"}, /There is no database at/],
      [["bin/restore"], {NURV_HOME: "/tmp"}, /Usage/],
      [%w[bin/restore /nonexistent], {}, %r{There is no /nonexistent}],
      [
        ["bin/backup"],
        {BUNDLE_APP_CONFIG: "/nonexistent", BUNDLE_PATH: "/nonexistent"},
        %r{run bin/demo or bin/serve once}
      ],
      [
        %w[bin/nurv truth x],
        {BUNDLE_APP_CONFIG: "/nonexistent", BUNDLE_PATH: "/nonexistent"},
        %r{run bin/demo or bin/serve once}
      ],
      [
        [RbConfig.ruby, "config/boot.rb"],
        {APP_ENV: "production", NURV_HOME: "/proc/nurv"},
        /Nurv cannot start: .*cannot be written/
      ],
      [
        [RbConfig.ruby, "config/boot.rb"],
        {APP_ENV: "production", NURV_HOME: "/tmp/nurv-spec-port", PORT: "door"},
        /Nurv cannot start: PORT should be/
      ]
    ].each do |command, settings, message|
      output, status = run(*command, **settings)
      expect(status).not_to be_success
      expect(output).to match(message)
      expect(output.lines.size).to eq(1), output
    end
  end

  it "put a service and a nightly copy in place for systemd" do
    Dir.mktmpdir do |folder|
      output, status = run("bin/install-service", "keeper", DESTDIR: folder)
      expect(status).to be_success, output
      unit, timer, backup =
        %w[nurv.service nurv-backup.timer nurv-backup.service].map do |name|
          File.read(File.join(folder, "etc/systemd/system", name))
        end
      expect(unit).to include("ExecStart=#{root}/bin/serve").and include("User=keeper").and satisfy { |text|
        !text.match?(/FOLDER|ACCOUNT/)
      }
      expect(timer).to include("OnCalendar=")
      expect(backup).to include("bin/backup --keep 14")
    end
  end
end
