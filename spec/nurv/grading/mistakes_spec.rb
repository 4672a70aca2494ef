# frozen_string_literal: true

# For each mistake a correct log bent to make it and nothing else.
RSpec.describe "Mistakes testers make" do
  def place(procedure, faults: {}, **changes)
    kind = SHIPPED.procedures.fetch(procedure)
    variant(
      assembly: kind.assembly.to_s,
      faults: faults,
      procedures: [procedure.to_s],
      kit: {
        id: kind.kits.first.to_s,
        serial: "NK-1",
        checked_on: "2026-03-02"
      },
      **changes
    )
  end

  def turn?(act, valve, to = nil) =
    act[:kind] == "turn" && act[:valve] == valve.to_s && (to.nil? || (act[:to] - to).abs < 1e-9)

  def place_of(actions, valve, to, nth = 0) =
    actions.each_index.select { |index| turn?(actions[index], valve, to) }[nth]

  def drop(actions, *indexes) = actions.reject.with_index { |_, index| indexes.include?(index) }

  def change(actions, index, **fields) =
    actions.map.with_index { |act, position| (position == index) ? act.merge(fields) : act }

  # Moves an act to just after another.
  def move(actions, from, after)
    moved = actions[from].merge(at_ms: actions[after][:at_ms] + 10)
    drop(actions, from).then { |rest| rest.insert((from < after) ? after : after + 1, moved) }
  end

  # Writes into notebook and report what the gauge showed at the moment of the note.
  def write_what_showed(bench, actions, *items)
    replay =
      Nurv::Bench::Replay.new(bench, Nurv::Bench::Log.new(actions.map { |data| Nurv::Bench::Action.new(data) }))
    items.reduce(actions) do |list, item|
      note = list.find { |act| act[:kind] == "jot" && act[:item] == item.to_s }
      value = format("%.1f", replay.needle_at(note[:at_ms] / 1000.0))
      list.map { |act| (act.equal?(note) || act[:field] == item.to_s) ? act.merge(value: value) : act }
    end
  end

  def say(actions, **fields) =
    actions.map { |act| fields.key?(act[:field]&.to_sym) ? act.merge(value: fields[act[:field].to_sym]) : act }

  def note(actions, item, value) =
    actions.map { |act| (act[:item] == item.to_s || act[:field] == item.to_s) ? act.merge(value: value) : act }

  def expect_only(bench, actions, *mistakes) = expect(grade(bench, actions).mistakes).to eq(mistakes)

  it "test cock not flushed" do
    bench = place(:r1)
    actions = expert_actions(bench)
    expect_only(
      bench,
      drop(actions, place_of(actions, :test_cock_1, 1.0), place_of(actions, :test_cock_1, 0.0)),
      :test_cock_not_flushed
    )
  end

  it "flush in the wrong order" do
    bench = place(:r1)
    actions = expert_actions(bench)
    four, one = %i[test_cock_4 test_cock_1].map { |cock| place_of(actions, cock, 1.0) }
    expect_only(bench, change(change(actions, four, valve: "test_cock_1"), one, valve: "test_cock_4"), :flush_order)
  end

  it "hose bled too short" do
    bench = place(:d2)
    actions = expert_actions(bench)
    index = place_of(actions, :low_control, 0.0, 1)
    opened = place_of(actions, :low_control, 2.5, 1)
    bent = change(actions, index, at_ms: actions[opened][:at_ms] + 300, speed: "fast")
    expect_only(bench, write_what_showed(bench, bent, :check_valve_2), :hose_not_bled)
  end

  it "bleeds closed in the wrong order" do
    bench = place(:r1)
    actions = expert_actions(bench)
    high = place_of(actions, :high_bleed, 0.0)
    low = place_of(actions, :low_bleed, 0.0)
    swapped =
      change(change(actions, high, valve: "low_bleed", speed: "slow"), low, valve: "high_bleed", speed: "normal")
    expect_only(bench, swapped, :bleeds_closed_wrong_order)
  end

  it "SOV2 left open during readings" do
    bench = place(:r1)
    actions = expert_actions(bench)
    expect_only(
      bench,
      move(actions, place_of(actions, :shutoff_valve_2, 0.0), place_of(actions, :high_control, 1.0)),
      :shutoff_valve_2_open
    )
  end

  it "gauge not level, or level with the wrong point" do
    bench = place(:r2)
    actions = expert_actions(bench)
    index = actions.index { |act| act[:kind] == "level" }
    bent =
      write_what_showed(
        bench,
        change(actions, index, to: 9.0),
        :check_valve_1_confirmed,
        :relief_valve_opening,
        :check_valve_2_differential
      )
    expect_only(bench, bent, :gauge_not_level)
  end

  it "low control left open" do
    bench = place(:r1)
    actions = expert_actions(bench)
    expect_only(
      bench,
      move(actions, place_of(actions, :low_control, 0.0), place_of(actions, :bypass_control, 2.5, 1)),
      :low_control_left_open
    )
  end

  it "low control opened too far" do
    bench = place(:r1)
    actions = change(expert_actions(bench), place_of(expert_actions(bench), :low_control, 0.25), to: 2.0)
    replay =
      Nurv::Bench::Replay.new(bench, Nurv::Bench::Log.new(actions.map { |data| Nurv::Bench::Action.new(data) }))
    opened = actions[place_of(actions, :low_control, 2.0)][:at_ms] / 1000.0
    span = replay.span_at(opened + 0.01)
    moment =
      span
        .trajectory
        .first_time(opened, opened + 10) { |time| Nurv::Expert::Eyes.happens?(span, :relief_valve, time) }
    read = format("%.1f", span.needle_at(moment))
    expect(read.to_f).to be < 2.9
    expect_only(bench, note(actions, :relief_valve_opening, read), :low_control_too_far)
  end

  it "relief valve left while the needle still falls, whatever was looked at meanwhile" do
    bench = place(:r1)
    actions = expert_actions(bench)
    opened, shut = [0.25, 0.0].map { |turns| place_of(actions, :low_control, turns) }
    from_ms = actions[opened][:at_ms]
    early_ms = actions[shut][:at_ms] - from_ms - 3000
    rest = actions.drop(shut).map { |act| act.merge(at_ms: act[:at_ms] - early_ms) }
    looked = {kind: "watch", at: "relief_port", at_ms: from_ms + 1000, id: "looked"}
    bent = actions.take(opened + 1).reject { |act| act[:kind] == "watch" } + [looked, *rest]
    expect(grade(bench, bent).mistakes).to include(:relief_not_awaited)
  end

  it "residual drip taken for a discharge: a value noted while the relief port was still dry" do
    bench = place(:r1)
    bent = note(expert_actions(bench), :relief_valve_opening, "6.0")
    expect_only(bench, bent, :residual_drip)
  end

  it "opening point read late, when the needle has run past it" do
    bench = place(:r1)
    actions = change(expert_actions(bench), place_of(expert_actions(bench), :low_control, 0.25), to: 2.0)
    expect_only(
      bench,
      write_what_showed(bench, actions, :relief_valve_opening),
      :low_control_too_far,
      :opening_read_late
    )
  end

  it "reset forgotten before CV2" do
    bench = place(:r1)
    actions = expert_actions(bench)
    expect_only(
      bench,
      drop(actions, place_of(actions, :low_bleed, 1.0), place_of(actions, :low_bleed, 0.0, 1)),
      :reset_forgotten
    )
  end

  it "the value that would have been confirmed, written down where for want of a reset it was not shown" do
    bench = place(:r1)
    actions = expert_actions(bench)
    bent = drop(actions, place_of(actions, :low_bleed, 1.0, 1), place_of(actions, :low_bleed, 0.0, 2))
    expect_only(bench, bent, :reset_forgotten)
    reading = grade(bench, bent).lines.find { |line| line.section == :readings && line.id == :check_valve_1_confirmed }
    expect(reading.earned).to eq(0)
  end

  it "apparent value recorded as confirmed: one frozen on a digital face before the needle had come to rest" do
    bench =
      place(:r1).then do |usual|
        Nurv::Stations::Variant.new(
          Nurv::Stations::Station.new(
            Nurv::Facts.of({**usual.station.data, kit: {**usual.station.data[:kit], face: "digital"}}),
            SHIPPED
          ),
          1
        )
      end
    actions = expert_actions(bench)
    replay =
      Nurv::Bench::Replay.new(bench, Nurv::Bench::Log.new(actions.map { |data| Nurv::Bench::Action.new(data) }))
    closed = actions[place_of(actions, :low_bleed, 0.0)][:at_ms]
    # A digital face takes a reading every quarter of a second.
    samples = ((closed / 250 + 1) * 250..(closed + 12_000)).step(250)
    frozen_ms = samples.find { |ms| replay.needle_at(ms / 1000.0).between?(8.35, 12.0) }
    shown = format("%.1f", replay.needle_at(frozen_ms / 1000.0))
    noted = note(note(actions, :check_valve_1_apparent, shown), :check_valve_1_confirmed, shown)
    jotted = noted.index { |act| act[:item] == "check_valve_1_apparent" }
    released = {kind: "release", at_ms: noted[jotted][:at_ms] + 10, id: "release"}
    frozen = {kind: "capture", at_ms: frozen_ms, id: "capture"}
    bent =
      noted
        .dup
        .insert(jotted + 1, released)
        .then { |list| list.insert(list.index { |act| act[:at_ms] > frozen_ms }, frozen) }
    expect_only(bench, bent, :read_before_steady, :apparent_as_confirmed)
  end

  it "a shutoff left closed" do
    bench = place(:r1)
    actions = expert_actions(bench)
    expect_only(bench, drop(actions, place_of(actions, :shutoff_valve_2, 1.0)), :left_shut)
  end

  it "bypass connected unbled" do
    bench = place(:r1)
    actions = expert_actions(bench)
    expect_only(
      bench,
      drop(actions, place_of(actions, :bypass_control, 2.5), place_of(actions, :bypass_control, 0.0)),
      :bypass_unbled
    )
  end

  it "reading taken before the needle is steady" do
    bench = place(:d1, faults: {check_valve_1_fouled: :moderate})
    actions = expert_actions(bench)
    jot = actions.index { |act| act[:kind] == "jot" }
    early = actions[jot].merge(at_ms: actions[place_of(actions, :test_cock_3, 1.0, 2)][:at_ms] + 6_000)
    moved = drop(actions, jot).then { |rest| rest.insert(rest.index { |act| act[:at_ms] > early[:at_ms] }, early) }
    bent = say(write_what_showed(bench, moved, :check_valve_1), result_check_valve_1: "pass", overall: "pass")
    expect(grade(bench, bent).mistakes).to eq([:read_before_steady])
  end

  it "reading not given its two minutes" do
    bench = place(:d1)
    actions = expert_actions(bench)
    from = place_of(actions, :test_cock_3, 1.0, 2)
    jot = actions.index { |act| act[:kind] == "jot" }
    gain = actions[jot][:at_ms] - actions[from][:at_ms] - 20_000
    expect_only(
      bench,
      actions.map.with_index { |act, index| (index >= jot) ? act.merge(at_ms: act[:at_ms] - gain) : act },
      :not_waited
    )
  end

  it "tee cracked too far" do
    bench = place(:d1, faults: {shutoff_valve_1_leaks: :moderate})
    actions = expert_actions(bench)
    jot = actions.index { |act| act[:kind] == "jot" }
    tee = (0...jot).to_a.rindex { |index| turn?(actions[index], :tee_needle) }
    bent = write_what_showed(bench, change(actions, tee, to: 1.0), :check_valve_1)
    bent = say(bent, result_check_valve_1: "fail", overall: "fail")
    expect_only(bench, bent, :tee_too_far)
  end

  it "SOV1 not reopened between checks" do
    bench = place(:d1)
    actions = expert_actions(bench)
    bent =
      write_what_showed(
        bench,
        drop(actions, place_of(actions, :shutoff_valve_1, 1.0), place_of(actions, :shutoff_valve_1, 0.0, 1)),
        :check_valve_2
      )
    expect_only(bench, say(bent, result_check_valve_2: "fail", overall: "fail"), :shutoff_valve_1_not_reopened)
  end

  it "air inlet bled too fast" do
    bench = place(:p1)
    actions = expert_actions(bench)
    bent = change(actions, place_of(actions, :high_bleed, 0.125), to: 0.5)
    expect_only(bench, bent, :opened_too_fast)
  end

  it "canopy left off" do
    bench = place(:p1)
    actions = expert_actions(bench)
    expect_only(bench, drop(actions, actions.rindex { |act| act[:kind] == "canopy" }), :canopy_left_off)
  end

  it "a test cock left open" do
    bench = place(:r1)
    actions = expert_actions(bench)
    expect_only(bench, drop(actions, place_of(actions, :test_cock_4, 0.0, 1)), :left_open)
  end

  it "no-flow check left out" do
    bench = place(:d2)
    actions = expert_actions(bench)
    vent = actions.index { |act| act[:kind] == "connect" && act[:hose] == "vent" }
    shut = (vent...actions.size).find { |index| turn?(actions[index], :test_cock_2, 0.0) }
    late = (shut...actions.size).find { |index| turn?(actions[index], :test_cock_3, 0.0) }
    moved = actions[shut].merge(at_ms: actions[late][:at_ms])
    expect_only(bench, drop(actions, shut).insert(late, moved), :no_flow_not_checked)
  end
end
