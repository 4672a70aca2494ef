# frozen_string_literal: true

RSpec.describe "Grading R1" do
  let(:healthy) { variant }

  # The expert's log, changed by one mistake.
  def after(actions, &block) = actions.map(&:dup).then(&block)

  def mistakes(bench, actions) = grade(bench, actions).mistakes

  def set_field(actions, field, value) =
    actions.map { |act| (act[:kind] == "fill" && act[:field] == field.to_s) ? act.merge(value: value) : act }

  def without(actions) = actions.reject { |act| yield(act) }

  def turning?(act, valve, to) = act[:kind] == "turn" && act[:valve] == valve && (act[:to] - to).abs < 1e-9

  Sample.of(SHIPPED.demo_stations, 3).each do |station|
    it "finds the truth of #{station.id} and gives the expert full marks" do
      Sample.of([2, 1], 2).each do |seed|
        bench = Nurv::Stations::Variant.new(station, seed)
        truth = Nurv::Expert::Truth.of(bench, station.procedures.first)
        expect(truth).to be_solvable
        expect(grade(bench, truth.run.log.actions.map(&:to_h)).score).to eq(100.0)
      end
    end
  end

  it "computes a healthy station's truth within 0.1 of its springs and opening point" do
    truth = Nurv::Expert::Truth.of(healthy, healthy.station.procedures.first)
    expect(truth.values[:check_valve_1_confirmed].to_f).to be_within(0.1).of(8.0)
    expect(truth.values[:relief_valve_opening].to_f).to be_within(0.1).of(3.0)
  end

  mistakes_of_r1 = {
    not_notified: ->(acts) { acts.reject { |act| act[:topic] == "shutdown" } },
    not_identified: ->(acts) { acts.reject { |act| act[:at] == "plate" } },
    not_inspected: ->(acts) { acts.reject { |act| act[:at] == "upstream_piping" } },
    kit_not_checked: ->(acts) { acts.reject { |act| act[:at] == "kit_label" } },
    water_on_unannounced: ->(acts) { acts.reject { |act| act[:topic] == "water_on" } },
    not_looked_again: ->(acts) { acts.reject.with_index { |act, index| act[:at] == "leaks" && index > 30 } },
    watched_gauge: ->(acts) { acts.reject { |act| act[:at] == "relief_port" && act[:kind] == "watch" } },
    shutoff_opened_fast: ->(acts) do
      acts.map do |act|
        (act[:valve] == "shutoff_valve_2" && act[:to].to_f.positive?) ? act.merge(speed: "fast") : act
      end
    end,
    low_bleed_slammed: ->(acts) do
      index = acts.index { |act| act[:valve] == "low_bleed" && act[:to].zero? }
      acts.map.with_index { |act, position| (position == index) ? act.merge(speed: "fast") : act }
    end,
    record_wrong: ->(acts) { acts.map { |act| (act[:field] == "serial") ? act.merge(value: "KF-9") : act } },
    record_incomplete: ->(acts) { acts.reject { |act| act[:field] == "signature" } },
    notebook_differs: ->(acts) do
      acts.map { |act| (act[:field] == "check_valve_1_confirmed") ? act.merge(value: "8.1") : act }
    end,
    wrong_diagnosis: ->(acts) do
      acts.map { |act| (act[:field] == "diagnosis") ? act.merge(value: "check_valve_2:fouled") : act }
    end,
    wrong_verdict: ->(acts) do
      acts.map { |act| (act[:field] == "result_check_valve_2") ? act.merge(value: "fail") : act }
    end,
    wrong_overall: ->(acts) do
      acts.map { |act| (act[:field] == "overall") ? act.merge(value: "not_completed") : act }
    end,
    reading_missing: ->(acts) { acts.reject { |act| act[:field] == "relief_valve_at_rest" } }
  }
  mistakes_of_r1.each do |mistake, change|
    it "names #{mistake}, and nothing else" do
      expect(mistakes(healthy, change.call(expert_actions(healthy)))).to eq([mistake])
    end
  end

  it "fails whoever leaves a critical step out, unless the policy says otherwise, and nobody for another step" do
    shipped = SHIPPED.policies.fetch(:standard)
    ticked = shipped.data[:fail_outright] - ["water_on_unannounced"]
    mild = Nurv::Grading::Policy.new({**shipped.data, fail_outright: ticked})
    unannounced = expert_actions(healthy).reject { |act| act[:topic] == "water_on" }
    expect([grade(healthy, unannounced).pass?, grade(healthy, unannounced, policy: mild).pass?]).to eq([false, true])
    expect(grade(healthy, unannounced).failed_outright).to eq([:water_on_unannounced])
    open_still = without(expert_actions(healthy)) { |act| act[:valve] == "shutoff_valve_2" }
    # With SOV2 open the gauge showed other numbers than those that were written down.
    expect(grade(healthy, open_still).failed_outright).to match_array(%i[shutoff_valve_2_open never_shown])
    unlooked = expert_actions(healthy).reject { |act| act[:at] == "upstream_piping" }
    expect(grade(healthy, unlooked)).to be_pass
  end

  it "names a reading that the gauge never showed" do
    actions = expert_actions(healthy).reject { |act| act[:kind] == "jot" && act[:item] == "check_valve_1_confirmed" }
    expect(mistakes(healthy, set_field(actions, :check_valve_1_confirmed, "6.3"))).to eq([:never_shown])
  end

  it "names a forgotten reset" do
    actions = expert_actions(healthy)
    closings = actions.each_index.select { |index| turning?(actions[index], "low_bleed", 0.0) }
    openings = actions.each_index.select { |index| turning?(actions[index], "low_bleed", 1.0) }
    kept = actions.reject.with_index { |_, index| [closings.last, openings.last].include?(index) }
    shown = Nurv::Bench::Replay.new(healthy, Nurv::Bench::Log.new(kept.map { |act| Nurv::Bench::Action.new(act) }))
    jot = kept.find { |act| act[:kind] == "jot" && act[:item] == "check_valve_1_confirmed" }
    value = format("%.1f", shown.needle_at(jot[:at_ms] / 1000.0))
    kept =
      kept.map { |act| (act.equal?(jot) || act[:field] == "check_valve_1_confirmed") ? act.merge(value: value) : act }
    expect(mistakes(healthy, kept)).to eq([:reset_forgotten])
  end

  it "calls a leak of SOV2 named as a failed relief what it is" do
    bench = variant(faults: {shutoff_valve_2_leaks: :moderate})
    expect(mistakes(bench, set_field(expert_actions(bench), :diagnosis, "relief_valve:stuck"))).to eq(
      [:shutoff_called_relief]
    )
  end

  it "scores equal orders equal: the kit checked before the plate is read" do
    actions = expert_actions(healthy)
    looks = actions.each_index.select { |index| actions[index][:kind] == "look" && index < 15 }
    swapped = actions.map(&:dup)
    looks.zip(looks.reverse).each { |here, there| swapped[here][:at] = actions[there][:at] }
    expect(grade(healthy, swapped).score).to eq(100.0)
  end

  it "does not punish bleeding again" do
    actions = expert_actions(healthy)
    index = actions.index { |act| act[:kind] == "jot" }
    at = actions[index][:at_ms]
    again =
      [
        ["high_bleed", 2.5, "normal"],
        ["low_bleed", 2.5, "normal"],
        ["high_bleed", 0.0, "normal"],
        ["low_bleed", 0.0, "slow"]
      ].each_with_index.map do |(valve, to, speed), step|
        {kind: "turn", valve: valve, to: to, speed: speed, at_ms: at + 100 + step * 2000, id: "again#{step}"}
      end
    # Low before high, on the second try as well.
    again[0], again[1] = again[1].merge(at_ms: again[0][:at_ms]), again[0].merge(at_ms: again[1][:at_ms])
    later = actions.drop(index).map { |act| act.merge(at_ms: act[:at_ms] + 20_000) }
    expect(mistakes(healthy, actions.take(index) + again + later)).to eq([])
  end

  it "gives each thing wrong with a step a line of its own, which together cost no more than the step" do
    bent =
      expert_actions(healthy).map do |act|
        next act.merge(at: "gauge") if act[:kind] == "watch"

        (act[:valve] == "low_control" && act[:to].positive?) ? act.merge(to: 0.5) : act
      end
    graded = grade(healthy, bent)
    lines = graded.lines.select { |one| one.about == :relief_opening && one.section == :procedure }
    expect(lines.map(&:mistake)).to eq(%i[low_control_too_far watched_gauge])
    expect(lines.sum(&:points)).to eq(graded.procedure.step(:relief_opening).points)
    expect(lines.last.happened).to eq(Nurv::Remark.new(:eyes_on, thing: :gauge))
    again = Nurv::Grading::Grade.load(graded.dump, graded.policy, [graded.procedure])
    expect(again.mistakes).to eq(graded.mistakes)
    told = Nurv::Words::ToldGrade.new(again, SHIPPED).section(:procedure).select { |one| one.about == :relief_opening }
    expect(told.map(&:title).uniq.size).to eq(1)
  end

  it "gives every lost line a reason, and lines of the procedure their moment" do
    lines = Nurv::Words::ToldGrade.new(grade(healthy, expert_actions(healthy)), SHIPPED).lines
    expect(lines.map(&:why)).to all(match(/\w+ \w+/))
    expect(lines.select { |line| line.section == :procedure }.map(&:at_s)).to all(be_a(Float))
  end
end
