# frozen_string_literal: true

require "open3"

RSpec.describe Nurv::Bench::Hands do
  {
    "a hose on a test cock that is taken" => [
      :connect,
      {hose: "low", to: "test_cock_2"},
      /TC2 already has the high hose/
    ],
    "a hose on a test cock that is not there" => [:connect, {hose: "low", to: "test_cock_9"}, /no test cock 9/],
    "a hose this kit lacks" => [:connect, {hose: "vent", to: "test_cock_1"}, /no hose called/],
    "a valve nobody has" => [:turn, {valve: "magic_valve", to: 1.0}, /no valve called/],
    "the main's own pressure" => [:turn, {valve: "supply_pressure", to: 10.0}, /no valve called/],
    "the demand nobody sees" => [:turn, {valve: "demand", to: 0.5}, /no valve called/],
    "a turn beyond its stop" => [:turn, {valve: "low_control", to: 3.0}, /turns from shut to 2.5/],
    "a turn that is no number" => [:turn, {valve: "low_control", to: "far"}, /cannot be set to/],
    "a valve turned to where it is" => [:turn, {valve: "low_control", to: 0.0}, /already stands there/],
    "a hose taken off nothing" => [:disconnect, {hose: "low"}, /is not on anything/],
    "a capture on an analogue gauge" => [:capture, {}, /cannot freeze/],
    "talk to nobody" => [:tell, {person: "mayor", topic: "shutdown"}, /nobody called/],
    "a look at nothing" => [:look, {at: "moon"}, /no “moon”/],
    "an empty note" => [:jot, {item: "check_valve_1_apparent", value: " "}, /Write down what you read/],
    "a field no report has" => [:fill, {field: "fault", value: "x"}, /no field/]
  }.each do |name, (kind, fields, reason)|
    it "refuses #{name}, says why, and changes nothing" do
      bench = tester.connect(high: :test_cock_2).wait(1)
      before = Nurv::Bench::Snapshot.dump(bench.span.state)
      expect { bench.act(kind, **fields) }.to be_refused(reason)
      expect(Nurv::Bench::Snapshot.dump(bench.span.state)).to eq(before)
    end
  end

  {
    "trouble of no kind" => [:inject, {}, /Say which trouble/],
    "a fault without its severity" => [:inject, {fault: "check_valve_1_fouled"}, /Say which trouble/],
    "a fault of another kind of assembly" => [
      :inject,
      {fault: "air_inlet_stuck", severity: "gross"},
      /cannot happen to this assembly/
    ],
    "a main that swings beyond all bounds" => [:inject, {swing_psi: 400.0}, /Swing psi goes from 0 to 10/],
    "a demand that is no number" => [:inject, {demand: "all of it"}, /Demand goes from 0 to 1/],
    "a mark of a kind nobody gives" => [:mark, {step: "flush", as: "splendid"}, /done, wrong or out of order/],
    "a mark on a step that is not there" => [:mark, {step: "polish", as: "done"}, /no step “polish”/]
  }.each do |name, (kind, fields, reason)|
    it "refuses #{name} from an instructor, and changes nothing" do
      bench = tester.wait(1)
      before = Nurv::Bench::Snapshot.dump(bench.span.state)
      expect { bench.act(kind, **fields) }.to be_refused(reason)
      expect(Nurv::Bench::Snapshot.dump(bench.span.state)).to eq(before)
    end
  end

  it "lets an instructor foul a check of a running bench: it held, and holds no more" do
    bench = tester.two_hoses
    expect(bench.needle).to be_within(0.1).of(8.0)
    bench.act(:inject, fault: "check_valve_1_fouled", severity: "gross").wait(20)
    expect(bench.needle).to be < 4.0
    expect(bench.flow(:relief_valve)).to be > 0.05
  end

  it "leaves the water alone where a proctor marks a step" do
    bench = tester.two_hoses
    before = bench.span.water_at(bench.time_s + 3).to_h
    expect(bench.act(:mark, step: "flush", as: "wrong").span.water_at(bench.time_s + 3).to_h).to eq(before)
  end

  it "refuses an act before the last one, and any act after handing in" do
    bench = tester.wait(5).turn(:test_cock_1, 1.0)
    expect { bench.wait(-2).turn(:test_cock_2, 1.0) }.to be_refused(/before the last act/)
    done = tester.act(:submit).wait(1)
    expect { done.turn(:test_cock_2, 1.0) }.to be_refused(/handed in/)
  end
end
