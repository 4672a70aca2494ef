# frozen_string_literal: true

require "stringio"
require "tempfile"

RSpec.describe Nurv::CommandLine do
  def run(*arguments)
    out = StringIO.new
    err = StringIO.new
    [described_class.new(arguments, out: out, err: err).run, out.string, err.string]
  end

  # Held until the example is over: a temporary file that nobody knows any more is removed when Ruby likes.
  def file(text, extension)
    temp = Tempfile.new(["nurv", extension])
    (@files ||= []) << temp
    temp.write(text)
    temp.close
    temp.path
  end

  let(:station) { "docs/examples/station.yml" }
  let(:log) { "docs/examples/log.jsonl" }

  it "reads the documented station and log, and grades them in full" do
    status, output = run("grade", station, log)
    expect([status, output]).to match([0, /100\.0 of 100, pass/])
    expect(run("check", station)).to match([0, /good/, ""])
    expect(run("truth", station)).to match([0, /CV1 confirmed\s+8\.0/, ""])
  end

  it "tries every way of the drills in a file, and says where one is given away or asks what is not there" do
    drill = <<~YAML
      - id: opening
        label: Opening
        task: Let it open.
        why: It must.
        seconds: 60
        ways:
          - {procedure: r1, from: STEP, steps: [STEP]}
    YAML
    good = drill.gsub("STEP", "relief_opening")
    expect(run("check", file(good, ".yml"))).to match([0, /1 drills, good/, ""])
    given_away = good.sub("[relief_opening]", "[apparent]")
    expect(run("check", file(given_away, ".yml"))).to match([1, /✗\n.*1 ways are not/m, ""])
    expect(run("check", file(drill, ".yml"))).to match([2, "", /STEP/])
  end

  it "prints a replay as CSV and as JSON, with what runs at the outlets" do
    _, csv = run("replay", station, log, "--every", "1")
    expect(csv.lines.first.chomp).to eq("time_s,reading_psid,outlets")
    expect(csv).to match(/^\d+\.0,[\d.-]+,.*test_cock_4:jet/)
    _, json = run("replay", station, log, "--every", "5", "--json")
    expect(JSON.parse(json).map { |row| row["reading_psid"] }).to all(be_between(-0.5, 15.4))
  end

  it "writes an expert's log, grades and replays it where a kit sleeps: no reading while its face shows nothing" do
    vault = "data/demo/stations/25_rp_vault.yml"
    written = file(run("expert", vault)[1], ".jsonl")
    expect(run("grade", vault, written)).to match([0, /100\.0 of 100, pass/, ""])
    _, csv = run("replay", vault, written, "--every", "5")
    readings = CSV.parse(csv, headers: true).map { |row| row["reading_psid"] }
    expect(readings.first(3)).to eq([nil, nil, nil])
    expect(readings.last(10)).to all(match(/\A-?\d+\.\d+\z/))
  end

  it "says with exit 2 and one line where a station file is wrong" do
    good = File.read(station)
    {
      good.sub("assembly: rp", "assembly: xx") => /: assembly: "xx" is not known/,
      good.sub("pressure_psi: 60", "pressure_psi: much") => /line.pressure_psi: should be a number from 20 to 150/,
      good.sub("site: cider_works\n", "") => /: site: is missing/,
      good.sub("faults: []", "faults: [{id: gremlin, severity: light}]") =>
        /faults\[0\].id: "gremlin" is not a known fault/,
      good.sub("faults: []", "faults: [{id: air_inlet_stuck, severity: light}]") => /cannot happen on this assembly/,
      "{" => /line \d: is not YAML/,
      "just words" => /should be a mapping/,
      "--- !ruby/object:Object {}" => /plain values/
    }.each do |text, message|
      status, output, error = run("truth", file(text, ".yml"))
      expect([status, output, error]).to match([2, "", message])
      expect(error.lines.size).to eq(1)
    end
  end

  it "says with exit 2 and one line where a log is wrong" do
    {
      "{\"kind\":" => /line 1: is not JSON/,
      "{\"kind\":\"turn\",\"at_ms\":5}\n" => /line 1: To turn, say also: valve, to/,
      "{\"kind\":\"dance\",\"at_ms\":5}\n" => /line 1: “dance” is not something/,
      "{\"kind\":\"submit\",\"at_ms\":\"soon\"}\n" => /whole milliseconds/,
      "{\"kind\":\"submit\",\"at_ms\":9}\n{\"kind\":\"submit\",\"at_ms\":5}\n" => /line 2: goes back in time/,
      "{\"kind\":\"disconnect\",\"hose\":\"low\",\"at_ms\":5}\n" =>
        /act at 5 ms \(disconnect\): The low hose is not on anything/
    }.each do |text, message|
      status, _, error = run("grade", station, file(text, ".jsonl"))
      expect([status, error]).to match([2, message])
      expect(error.lines.size).to eq(1)
    end
  end

  it "names a file that is not there, and prints its usage for anything it does not know" do
    expect(run("check", "nowhere.yml")).to match([2, "", /nowhere.yml/])
    expect(run("dance")).to match([2, "", /Usage/])
    expect(run("grade", station)).to match([2, "", /Usage/])
  end

  it "warns of a station whose fault no allowed procedure finds" do
    text = File.read(station).sub("faults: []", "faults: [{id: check_valve_2_weak_spring, severity: moderate}]")
    expect(run("check", file(text, ".yml"))).to match(
      [1, /warning: no allowed procedure finds check_valve_2:weak_spring/, ""]
    )
  end

  it "writes a station out and reads it in again as the same bench" do
    first = Nurv::Stations::Station.read(station, SHIPPED)
    again = Nurv::Stations::Station.parse(first.to_yaml, SHIPPED)
    expect(again.data).to eq(first.data)
  end
end
