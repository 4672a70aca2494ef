# frozen_string_literal: true

# What hands do beside turning and carrying: caps, adapters, a firmer hand on a shutoff.
RSpec.describe Nurv::Bench::Readying do
  include BenchWork

  capped = {test_cocks: {capped: true, adapters: true}}

  def refused(id, &) = expect(&).to raise_error(Nurv::RefusedAction) { |error| expect(error.remark.id).to eq(id) }

  it "lets no hose on before the cap is off and the adapter on" do
    bench = tester(**capped)
    refused(:cap_off_first) { bench.connect(high: :test_cock_2) }
    refused(:cap_off_first) { bench.act(:adapt, at: "test_cock_2", to: "on") }
    refused(:cap_off_first) { bench.act(:clean, at: "test_cock_2") }
    bench.act(:cap, at: "test_cock_2", to: "off")
    refused(:needs_adapter) { bench.connect(high: :test_cock_2) }
    refused(:needs_adapter) { bench.act(:fit, fitting: "sight_tube", to: "test_cock_2") }
    bench.act(:adapt, at: "test_cock_2", to: "on").connect(high: :test_cock_2)
    refused(:take_off_first) { bench.act(:adapt, at: "test_cock_2", to: "off") }
    refused(:take_off_first) { bench.act(:cap, at: "test_cock_2", to: "on") }
    bench.act(:disconnect, hose: "high")
    refused(:take_adapter_off) { bench.act(:cap, at: "test_cock_2", to: "on") }
    bench.act(:adapt, at: "test_cock_2", to: "off").act(:cap, at: "test_cock_2", to: "on")
    refused(:cap_already) { bench.act(:cap, at: "test_cock_2", to: "on") }
    refused(:no_adapters) { tester.act(:adapt, at: "test_cock_2", to: "on") }
    refused(:on_or_off) { bench.act(:cap, at: "test_cock_2", to: "half") }
  end

  it "lets nothing out of a capped cock, and calls it not flushed" do
    bench = tester(**capped).turn(:test_cock_2, 1.0).wait(3)
    expect(bench.span.outlet_ids).not_to include(:test_cock_2)
    refused(:close_first) { bench.act(:cap, at: "test_cock_2", to: "off") }
    expect(bench.turn(:test_cock_2, 0.0).span.state.flushed).to eq([])
    bench.wait(1).act(:cap, at: "test_cock_2", to: "off").turn(:test_cock_2, 1.0).wait(3)
    expect(bench.flow(:test_cock_2)).to be > 20.0
    expect(bench.turn(:test_cock_2, 0.0).span.state.flushed).to eq([:test_cock_2])
  end

  it "stops a shutoff that weeps, and not one that leaks, until it is opened again" do
    drawn = {line: {pressure_psi: 60, demand: 0.5}}
    passing = lambda do |bench|
      bench.turn(:shutoff_valve_2, 0.0).wait(8)
      before = bench.flow(:shutoff_valve_2)
      refused(:tight_already) { 2.times { bench.act(:tighten, valve: "shutoff_valve_2") } }
      [before, bench.wait(4).flow(:shutoff_valve_2)]
    end
    weeping = tester(weeping: ["shutoff_valve_2"], **drawn)
    expect(passing.call(weeping)).to match([be > 0.1, be_within(0.001).of(0.0)])
    weeping.turn(:shutoff_valve_2, 1.0).wait(2)
    refused(:shut_it_first) { weeping.act(:tighten, valve: "shutoff_valve_2") }
    expect(passing.call(weeping)).to match([be > 0.1, be_within(0.001).of(0.0)])
    leaking = passing.call(tester(faults: {shutoff_valve_2_leaks: :light}, **drawn))
    expect(leaking).to match([be > 0.1, be_within(0.01).of(leaking.first)])
    expect(passing.call(tester(**drawn))).to match([be_within(0.001).of(0.0)] * 2)
  end

  it "tells one that weeps from one that leaks: who does not tighten takes the one for the other" do
    place = variant(weeping: ["shutoff_valve_2"], line: {pressure_psi: 60, demand: 1.0})
    truth = Nurv::Expert::Truth.of(place, place.station.procedures.first)
    expect(truth.diagnoses).to eq([])
    acts = expert_actions(place)
    expect(grade(place, acts).score).to eq(100.0)
    leak = "shutoff_valve_2:leaks_with_demand"
    blamed = acts.map { |act| (act[:field] == "diagnosis") ? act.merge(value: leak) : act }
    expect(grade(place, blamed).mistakes).to include(:weep_called_leak)
    loose = Tester.new(place)
    acts.take_while { |act| act[:kind] != "jot" }.reject { |act| act[:kind] == "tighten" }.each do |act|
      loose.wait(act[:at_ms] / 1000.0 - loose.time_s).act(act[:kind], **act.except(:kind, :at_ms, :id))
    end
    loose.turn(:high_control, 1.0).wait(2).turn(:low_control, 0.25)
    expect(loose.discharge(60)).to be_nil
    tight = loose.turn(:low_control, 0.0).wait(2).act(:tighten, valve: "shutoff_valve_2").turn(:low_control, 0.25)
    expect(tight.discharge(60)).to be_between(tight.time_s, tight.time_s + 60)
  end

  it "ends with a renewed shutoff, which shuts without force" do
    place = station(weeping: %w[shutoff_valve_1 shutoff_valve_2], after_failure: "repair_and_retest")
    change = {kind: "repair", component: "shutoff_valve_2", action: "renew_shutoff"}
    expect(place.changed([change]).weeping).to eq([:shutoff_valve_1])
    expect(place.changed([change.merge(action: "new_disc")]).weeping).to eq(place.weeping)
    data = Nurv::Facts.of(place.data.merge(weeping: ["test_cock_1"]))
    expect(Nurv::Stations::Check.new(data, SHIPPED).problems.map { |_, what| what.id }).to eq([:no_shutoff_here])
  end
end
