# frozen_string_literal: true

# A digital kit: power, light, standby, and memories that a note may come out of.
RSpec.describe Nurv::Bench::Face do
  include BenchWork

  usual = {id: "five_valve", face: "digital", serial: "NK-1", checked_on: "2026-03-02"}

  def refused(id, &) = expect(&).to raise_error(Nurv::RefusedAction) { |error| expect(error.remark.id).to eq(id) }

  def frames(bench, seconds = 20.0)
    Nurv::Bench::Frames.new(bench.span, bench.time_s, bench.time_s + seconds).to_h.values_at(:face, :needle)
  end

  it "shows nothing while it is off, and out of standby takes longer than when it is switched on" do
    wakes = %w[switched_off standby].map do |found|
      bench = tester(kit: {**usual, power: found, zero_error_psid: 0.6}).wait(3)
      expect(bench.span.shown_at(bench.time_s)).to be_nil
      expect(frames(bench).last.map(&:last).uniq).to eq([0.0])
      refused(:face_dark) { bench.act(:capture) }
      bench.act(:power, to: "on")
      refused(:face_dark) { bench.act(:keep, as: "relief_valve_opening") }
      words, needle = frames(bench)
      expect(words.map(&:last)).to eq(%w[waking on])
      lit_ms = words.last.first
      expect(needle.select { |ms, _| ms < lit_ms }.map(&:last).uniq).to eq([0.0])
      expect(needle.last.last).to be_within(0.05).of(0.6)
      lit_ms - bench.time_s * 1000
    end
    expect(wakes).to eq([described_class::STARTS_S * 1000, described_class::WAKES_S * 1000])
  end

  it "falls asleep when no button is pressed, and not for what is done to the valves" do
    bench = tester(kit: {**usual, sleeps_after_s: 300})
    refused(:power_already) { bench.act(:power, to: "on") }
    bench.wait(200).turn(:high_bleed, 1.0).wait(90)
    expect(bench.span.face.at(bench.time_s)).to eq(:on)
    expect(frames(bench).first.map(&:last)).to eq(%w[on standby])
    expect(bench.wait(20).span.shown_at(bench.time_s)).to be_nil
    asleep = tester(kit: {**usual, sleeps_after_s: 300}).act(:capture).wait(400)
    refused(:face_dark) { asleep.act(:release) }
    bench.act(:power, to: "on").wait(described_class::WAKES_S)
    expect(bench.span.face.shows?(bench.time_s)).to be(true)
    expect(tester(kit: usual).wait(4000).then { |one| one.span.face.at(one.time_s) }).to eq(:on)
  end

  it "needs its light where it is dark, and a needle needs nothing" do
    bench = tester(kit: {**usual, in_the_dark: true}).wait(1)
    expect([bench.span.face.at(1.0), bench.span.shown_at(1.0)]).to eq([:unlit, nil])
    expect(bench.act(:light, to: "on").span.face.at(1.0)).to eq(:on)
    refused(:light_already) { bench.act(:light, to: "on") }
    needle = tester(kit: usual.merge(face: "analogue", in_the_dark: true))
    expect(needle.span.face.shows?(5.0)).to be(true)
    %w[power light].each { |kind| refused(:analogue_has_none) { needle.act(kind.to_sym, to: "on") } }
    refused(:analogue_has_none) { needle.act(:keep, as: "relief_valve_opening") }
  end

  it "puts away what is held, with when it was, or what is shown just then" do
    bench = tester(kit: usual).two_hoses
    bench.act(:capture)
    captured_s = bench.time_s
    held = bench.span.state.captured_psid
    refused(:no_such_memory) { bench.act(:keep, as: "line_pressure") }
    bench.wait(5).act(:keep, as: "check_valve_1_apparent")
    expect(bench.span.state.memories).to eq(check_valve_1_apparent: [held, captured_s])
    expect(bench.span.state.captured_psid).to be_nil
    bench.wait(2).act(:keep, as: "relief_valve_opening")
    expect(bench.span.state.memories[:relief_valve_opening].last).to eq(bench.time_s)
    kept = Nurv::Bench::Snapshot.load(Nurv::Bench::Snapshot.dump(bench.span.state))
    told = %i[memories captured_psid captured_s power shows_s touched_s lit capped adapted tightened]
    expect(kept.to_h.slice(*told)).to eq(bench.span.state.to_h.slice(*told))
    expect(bench.act(:forget).span.state.memories).to eq({})
    refused(:nothing_kept) { bench.act(:forget) }
  end

  # The expert's test with every reading put into a memory where it was read, and written down at the very end.
  def from_memories(acts, move: ->(act) { act })
    notes = acts.select { |act| act[:kind] == "jot" }
    kept = acts.map { |act| notes.include?(act) ? move.call({**act, kind: "keep", as: act[:item]}) : act }
    kept = kept.map { |act| (act[:kind] == "keep") ? act.except(:item, :value) : act }
    kept = kept.sort_by.with_index { |act, index| [act[:at_ms], index] }
    last = kept.pop
    [*kept, *notes.map { |note| note.merge(at_ms: last[:at_ms]) }, last]
  end

  it "dates a note by when its value was put away: read right, it is right, whenever it is written down" do
    place = variant(kit: usual, faults: {check_valve_1_weak_spring: :moderate})
    acts = expert_actions(place)
    graded = grade(place, from_memories(acts))
    expect([graded.score, graded.mistakes]).to eq([100.0, []])
    early = lambda do |act|
      (act[:as] == "check_valve_1_apparent") ? act.merge(at_ms: act[:at_ms] - 11_000, id: "early") : act
    end
    wrong = from_memories(acts, move: early)
    kept = wrong.find { |act| act[:id] == "early" }
    shown = Tester.new(place).tap do |bench|
      wrong.take_while { |act| act != kept }.each do |act|
        bench.wait(act[:at_ms] / 1000.0 - bench.time_s).act(act[:kind], **act.except(:kind, :at_ms, :id))
      end
      bench.wait(kept[:at_ms] / 1000.0 - bench.time_s)
    end.then { |bench| bench.span.shown_at(bench.time_s).round(1).to_s }
    written = wrong.map { |act| (act[:item] == "check_valve_1_apparent") ? act.merge(value: shown) : act }
      .map { |act| (act[:field] == "check_valve_1_apparent") ? act.merge(value: shown) : act }
    expect(grade(place, written).mistakes).to include(:read_before_steady)
  end

  it "believes no memory that somebody else has filled, and has none of what is not read here" do
    odd = Nurv::Facts.of(station(kit: usual).data.merge(kit: {**usual, stored: {line_pressure: 60.0}}))
    expect(Nurv::Stations::Check.new(odd, SHIPPED).problems.map(&:first)).to eq(["kit.stored.line_pressure"])
    place = variant(kit: {**usual, stored: {check_valve_1_apparent: 6.9, relief_valve_opening: 2.4}})
    acts = expert_actions(place)
    expect(acts.map { |act| act[:kind] }).to include("forget")
    stale = acts.reject { |act| act[:kind] == "forget" || act[:item] == "relief_valve_opening" }
    note = {kind: "jot", item: "check_valve_1_apparent", value: "6.9", id: "stale"}
    stale = stale.flat_map { |act| (act[:item] == "check_valve_1_apparent") ? [note.merge(at_ms: act[:at_ms])] : [act] }
    stale = stale.map { |act| (act[:field] == "check_valve_1_apparent") ? act.merge(value: "6.9") : act }
    expect(grade(place, stale).mistakes).to include(:never_shown)
  end

  it "loses a reading to whoever writes one down from a face that shows nothing" do
    place = variant(kit: {**usual, power: "standby"})
    acts = expert_actions(place)
    expect(grade(place, acts).score).to eq(100.0)
    dark = grade(place, acts.reject { |act| act[:kind] == "power" })
    expect(dark.lines.select { |line| line.mistake == :never_shown }.map(&:about)).to eq(
      %i[check_valve_1_apparent relief_valve_opening check_valve_1_confirmed]
    )
  end
end
