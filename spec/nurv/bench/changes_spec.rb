# frozen_string_literal: true

RSpec.describe "What changes a bench for good" do
  def variant_after(changes, **station) = variant(**station).after(changes)

  it "takes away only what the repair mends" do
    faults = {check_valve_1_fouled: :gross, relief_valve_opens_low: :moderate}
    left = ->(*changes) { variant_after(changes, faults: faults).station.faults.map { |item| item.fault.id } }
    expect(left.call).to eq(%i[check_valve_1_fouled relief_valve_opens_low])
    expect(left.call({kind: "repair", component: "check_valve_1", action: "clean_seat"})).to eq(
      %i[relief_valve_opens_low]
    )
    expect(left.call({kind: "repair", component: "check_valve_1", action: "new_spring"})).to eq(
      %i[check_valve_1_fouled relief_valve_opens_low]
    )
    expect(left.call({kind: "repair", component: "check_valve_2", action: "clean_seat"})).to eq(
      %i[check_valve_1_fouled relief_valve_opens_low]
    )
  end

  it "puts trouble in once, however often it is said, and moves no other number" do
    trouble = {kind: "inject", fault: "check_valve_2_fouled", severity: "gross"}
    base = variant(line: {pressure_psi: {from: 40, to: 80}})
    expect(base.after([trouble, trouble]).station.faults.size).to eq(1)
    expect(base.after([trouble]).pressure_psi).to eq(base.pressure_psi)
    expect(base.after([{kind: "inject", swing_psi: 1.5}]).swing_psi).to eq(1.5)
    expect(base.after([])).to equal(base)
  end

  it "makes a check leak from the moment of the act on, and not before" do
    bench = tester.two_hoses
    steady = bench.wait(20).needle
    bench.act(:inject, fault: "check_valve_1_fouled", severity: "gross").wait(10)
    expect(steady).to be_within(0.1).of(8.0)
    expect(bench.needle).to be < 4.0
    expect { bench.act(:inject, fault: "air_inlet_stuck", severity: "gross") }.to be_refused(/cannot happen/)
    expect { bench.act(:inject, fault: "relief_valve_stuck", severity: "awful") }.to be_refused(/severity/)
    expect { bench.act(:inject) }.to be_refused(/Say which trouble/)
  end

  it "expects the diagnosis of what an instructor put in" do
    bench = variant
    actions = expert_actions(variant(faults: {check_valve_2_fouled: :gross}))
    trouble = {kind: "inject", fault: "check_valve_2_fouled", severity: "gross", at_ms: 0, id: "t"}
    expect(grade(bench, [trouble, *actions]).lines.find { |line| line.id == :diagnosis }).to be_full
    expect(grade(bench, expert_actions(bench).unshift(trouble)).mistakes).to include(:wrong_diagnosis)
  end

  it "keeps flushed, clogged, turned and changed things through a snapshot" do
    bench =
      tester(
        debris: ["test_cock_2"],
        faults: {
          test_cock_3_blocked: :light
        },
        kit: {
          id: "five_valve",
          serial: "NK-1",
          checked_on: "2026-03-02",
          strainer_at_kit: ["high"]
        }
      )
    bench
      .turn(:test_cock_4, 1.0)
      .wait(2)
      .turn(:test_cock_4, 0.0)
      .wait(1)
      .act(:clean, at: "test_cock_3")
      .connect(high: :test_cock_2)
      .turn(:test_cock_2, 1.0)
      .turn(:test_cock_1, 1.0)
      .wait(3)
    state = bench.span.state
    expect([state.flushed, state.clogged, state.turned_hoses, state.running.keys]).to eq(
      [[:test_cock_4], [:high], [:high], [:test_cock_1]]
    )
    copy = Nurv::Bench::Span.new(bench.variant, Nurv::Bench::Snapshot.load(Nurv::Bench::Snapshot.dump(state)))
    expect(copy.state.to_h.except(:controls)).to eq(state.to_h.except(:controls))
    expect(copy.variant.station.faults).to be_empty
    expect(copy.water_at(bench.time_s).to_h).to eq(bench.span.water_at(bench.time_s).to_h)
  end

  it "calls a test cock flushed after a second with nothing on it, and not before" do
    flushed = ->(seconds) { tester.turn(:test_cock_2, 1.0).wait(seconds).turn(:test_cock_2, 0.0).span.state.flushed }
    expect(flushed.call(0.9)).to eq([])
    expect(flushed.call(1.0)).to eq([:test_cock_2])
    expect(
      tester.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).wait(5).turn(:test_cock_2, 0.0).span.state.flushed
    ).to eq([])
  end

  it "shakes debris out of a hose that is taken off" do
    bench =
      tester(
        debris: ["test_cock_2"],
        kit: {
          id: "five_valve",
          serial: "NK-1",
          checked_on: "2026-03-02",
          strainer_at_kit: ["high"]
        }
      )
    bench.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).wait(1)
    expect(bench.span.state.clogged).to eq([:high])
    expect(bench.turn(:test_cock_2, 0.0).act(:disconnect, hose: "high").span.state.clogged).to eq([])
    expect { tester.connect(high: :test_cock_2).act(:swap_ends, hose: "high") }.to be_refused(/off the assembly/)
  end

  it "shows pressures inside only where they are asked for" do
    span = tester.two_hoses.wait(30).act(:jot, item: "x", value: "1").span
    plain = Nurv::Bench::Frames.new(span, span.from_s, span.from_s + 2.0).to_h
    open = Nurv::Bench::Frames.new(span, span.from_s, span.from_s + 2.0, inside: true).to_h
    expect(plain).not_to have_key(:inside)
    expect(open[:inside].keys).to contain_exactly(:supply, :inlet, :zone, :outlet, :downstream, :high, :low)
    inlet, zone = open[:inside].values_at(:inlet, :zone).map { |points| points.last[1] }
    expect(inlet - zone).to be_within(0.3).of(open[:needle].last[1])
  end

  it "drips off the body after flushing, beside the relief port and not out of it" do
    dry = Nurv::Bench::Frames.new(tester.span, 0.0, 20.0).to_h[:outlets]
    expect(dry).not_to have_key(:residual)
    bench = tester.turn(:test_cock_4, 1.0).wait(2).turn(:test_cock_4, 0.0)
    outlets = Nurv::Bench::Frames.new(bench.span, bench.time_s, bench.time_s + 20.0).to_h[:outlets]
    expect(outlets[:residual].map(&:last).uniq).to contain_exactly("dry", "drip")
    expect(outlets[:relief_valve].map(&:last)).to eq(["dry"])
  end
end
