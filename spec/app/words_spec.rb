# frozen_string_literal: true

require "support/web"

RSpec.describe "Words on screens" do
  samples = {
    turn: [{valve: "low_control", to: 0.25}, "Low control ¼ turn open"],
    connect: [{hose: "high", to: "test_cock_2"}, "High hose on TC2"],
    disconnect: [{hose: "low"}, "Low hose taken off"],
    level: [{to: 9}, "Gauge held at 9 in"],
    fit: [{fitting: "sight_tube", to: "test_cock_3"}, "Sight tube on TC3"],
    unfit: [{fitting: "bleed_off_tee"}, "Bleed-off tee taken off"],
    canopy: [{to: "off"}, "Canopy off"],
    look: [{at: "plate"}, "Looked: Name plate"],
    tell: [{person: "occupant", topic: "water_on"}, "Said: I am done. The water is about to come back on."],
    watch: [{at: "relief_port"}, "Eyes on the relief port"],
    cap: [{at: "test_cock_3", to: "off"}, "Cap off TC3"],
    adapt: [{at: "test_cock_3", to: "on"}, "Adapter on TC3"],
    tighten: [{valve: "shutoff_valve_2"}, "SOV2 tightened"],
    power: [{to: "on"}, "Gauge switched on"],
    light: [{to: "off"}, "Gauge's light off"],
    keep: [{as: "relief_valve_opening"}, "Stored as relief valve opening"],
    forget: [{}, "Cleared what was stored"],
    capture: [{}, "Capture"],
    release: [{}, "Release"],
    jot: [{item: "line_pressure", value: "60"}, "Jotted line pressure: 60"],
    fill: [{field: "serial", value: "x"}, "Wrote in the report"],
    find: [{finding: "plate"}, "Noted as wrong: Name plate"],
    clean: [{at: "plate"}, "Cleaned plate"],
    repair: [{component: "check_valve_1", action: "new_spring"}, "Mended CV1: fit a new spring"],
    inject: [
      {fault: "relief_valve_stuck", severity: "gross"},
      "Instructor: relief valve stuck or its sensing line plugged, gross"
    ],
    mark: [{step: "flush", as: "out_of_order"}, "Marked flush: out of order"],
    swap_ends: [{hose: "high"}, "High hose turned end for end"],
    tag: [{at: "test_cock_3", as: "test_cock_2"}, "Hung the tag TC2 on TC3"],
    declare: [{what: "own_hang_the_tag"}, "Said to be done: hang the tag"],
    submit: [{}, "Handed in"]
  }

  it "has every kind of act in plain words" do
    expect(samples.keys).to match_array(Nurv::Bench::Action::KINDS.keys)
    samples.each do |kind, (fields, words)|
      expect(Web::ActWords.of(Nurv::Bench::Action.new(kind: kind.to_s, at_ms: 0, **fields), SHIPPED)).to eq(words)
    end
  end

  it "says how far a valve is open as a tester would" do
    turns = [0.0, 0.125, 0.25, 0.5, 1.0, 1.5, 2.5, 0.33].map { |value| Web::ActWords.position(:low_control, value) }
    expect(turns).to eq(
      [
        "closed",
        "⅛ turn open",
        "¼ turn open",
        "½ turn open",
        "1 turn open",
        "1½ turns open",
        "2½ turns open",
        "0.33 turn open"
      ]
    )
    expect([0.0, 0.1, 1.0].map { |value| Web::ActWords.position(:test_cock_1, value) }).to eq(
      ["closed", "10 % open", "open"]
    )
  end

  it "says how water runs in five words, each for more than the last" do
    words = [0.0, 0.06, 2.0, 10.0, 60.0].map { |flow| Nurv::Bench::Flow.seen(flow) }
    expect(words).to eq(%i[dry drip trickle stream jet])
  end

  it "draws every finding that an eye could see, and asks for words where it could not" do
    drawn = File.read("app/views/bench/_site.erb").scan(/include\?\(:(\w+)\)/).flatten.map(&:to_sym)
    told = %i[wrong_application wrong_assembly kit_out_of_date gauge_off_zero permission_refused]
    expect(SHIPPED.findings.keys - drawn - told).to eq([])
  end

  it "names keyboard keys no bench has twice" do
    SHIPPED.assemblies.each_value do |assembly|
      kinds = SHIPPED.procedures.values.select { |procedure| procedure.assembly == assembly.id }
      kinds
        .flat_map(&:kits)
        .uniq
        .map { |id| SHIPPED.kits.fetch(id) }
        .each do |kit|
          there =
            assembly.shutoff_valves + assembly.test_cocks.keys + kit.valves.keys +
            kit.hoses.keys.map { |hose| :"hose_#{hose}" } + %i[gauge tee_needle box]
          keys = there.map { |id| Web::BenchScreen::KEYS.fetch(id) }
          expect(keys.uniq.size).to eq(keys.size),
            "#{assembly.id} #{kit.id}: #{keys.tally.select { |_, count| count > 1 }}"
        end
    end
  end

  it "says and writes nothing without a sign" do
    said = ->(psid) { SHIPPED.words.tell(Nurv::Remark.new(:why_stands, psid: psid))[/-?\d+\.\d/] }
    expect([-0.04, 0.04, -0.06, -10.04].map(&said)).to eq(%w[0.0 0.0 -0.1 -10.0])
    expect([-0.04, -0.06, -10.0].map { |psid| Nurv::Units.number(psid) }).to eq(%w[0.0 -0.1 -10.0])
  end

  it "converts differentials and pressures exactly" do
    expect(Nurv::Units.differential(8.0)).to eq("8.0 psid")
    expect(Nurv::Units.differential(8.0, unit: :kpa)).to eq("55.2 kPa")
    expect(Nurv::Units.pressure(60, unit: :kpa)).to eq("414 kPa")
    expect(Nurv::Units.head_psi(12)).to be_within(0.001).of(0.433)
    expect([Nurv::Units.clock(67.9), Nurv::Units.clock(3600), Nurv::Units.differential(nil)]).to eq(%w[1:07 60:00 –])
  end
end
