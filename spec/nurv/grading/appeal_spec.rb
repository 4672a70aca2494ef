# frozen_string_literal: true

# No failing assembly passes, whichever way the report was filled in, and nobody is accused of what did not happen.
RSpec.describe "A grade before an appeal" do
  # A bench of a procedure's own assembly and kit.
  def bench_of(procedure, faults = {})
    assembly = SHIPPED.assemblies.fetch(procedure.assembly)
    variant(
      assembly: assembly.id.to_s,
      plate: {make: "Karrow & Finch", model: "Breakwater", size: "1 in", serial: "KF-1", type: assembly.short},
      procedures: [procedure.id.to_s],
      kit: {id: procedure.kits.first.to_s, serial: "NK-1", checked_on: "2026-03-02"},
      faults: faults
    )
  end

  # Acts as far as the bench lets them be done.
  def doable(bench, acts)
    span = Nurv::Bench::Span.new(bench, Nurv::Bench::Opening.new(bench).state)
    acts.select do |data|
      span = span.after(Nurv::Bench::Action.new(data))
      true
    rescue Nurv::RefusedAction
      false
    end
  end

  # What a correct tester did and wrote at a sound assembly, done again by heart at another.
  def by_heart(procedure, bench) = doable(bench, expert_actions(bench_of(procedure)))

  # A correct tester finds these otherwise than they are, so nobody can be held to them.
  unsolvable = [%i[d1 back_pressure]]
  failing = SHIPPED.procedures.values.flat_map do |procedure|
    faults = SHIPPED.faults.values.select { |fault| fault.applies_to?(procedure.assembly) }.map(&:id)
    faults.map { |fault| [procedure.id, fault] }
  end

  Sample.of(failing - unsolvable, 16).push(%i[r1 check_valve_2_fouled], %i[d2 shutoff_valve_2_leaks]).uniq
    .each do |id, fault|
      it "passes no healthy test done by heart where #{fault} (#{id})" do
        procedure = SHIPPED.procedures.fetch(id)
        bench = bench_of(procedure, fault => :moderate)
        truth = Nurv::Expert::Truth.of(bench, procedure)
        next if truth.overalls(truth.verdict) == [:pass]

        grade = grade(bench, by_heart(procedure, bench))
        expect([grade.pass?, grade.score]).to match([false, be < 100.0])
      end
    end

  it "fails a fouled CV2 that was called tight outright, though the needle fell in the first of two tries" do
    r1 = SHIPPED.procedures.fetch(:r1)
    bench = bench_of(r1, check_valve_2_fouled: :moderate)
    grade = grade(bench, by_heart(r1, bench))
    expect(grade.failed_outright).to include(:failing_passed)
    expect(grade.mistakes).to include(:observation_wrong)
  end

  it "fails D2's masked leak that was written as a steady needle" do
    masked = demo_station(:dc_masked)
    bench = Nurv::Stations::Variant.new(masked, 1)
    d2 = masked.procedures.first
    expect(Nurv::Expert::Truth.of(bench, d2).values[:no_flow]).to eq("needle falls")
    acts = expert_actions(bench).map do |act|
      next act.merge(value: "needle steady") if act[:field] == "no_flow" || act[:item] == "no_flow"
      next act.merge(value: "pass") if act[:field].to_s.match?(/\A(result_|overall)/)
      next act.merge(value: "none:healthy") if act[:field] == "diagnosis"

      act
    end
    expect(grade(bench, acts.reject { |act| act[:field] == "diagnosis_2" }).pass?).to be(false)
  end

  it "weighs an observation that was made up as a number that was made up" do
    d2 = SHIPPED.procedures.fetch(:d2)
    bench = bench_of(d2)
    moments = Nurv::Expert::Truth.of(bench, d2).run.moments
    from, to = moments.fetch(:no_flow), moments.fetch(:close_everything)
    acts = expert_actions(bench).reject do |act|
      at_s = act[:at_ms] / 1000.0
      at_s >= from && at_s < to && act[:kind] == "turn"
    end
    grade = grade(bench, doable(bench, acts))
    expect(grade.failed_outright).to include(:never_shown)
  end

  it "lets no named disturbance excuse a number that was made up" do
    bench = variant
    number = "8.0"
    acts = expert_actions(bench).reject { |act| act[:kind] == "turn" && %w[high_bleed low_bleed].include?(act[:valve]) }
    grade = grade(bench, acts)
    lost = grade.lines.find { |line| line.id == :check_valve_1_confirmed }
    expect(acts.find { |act| act[:field] == "check_valve_1_confirmed" }[:value]).to eq(number)
    expect(lost).to be_lost
  end

  it "does not call invented what the gauge showed as it was written down, wherever the hoses were" do
    bench = tester(procedures: ["r1"]).connect(high: :test_cock_3, low: :test_cock_2)
    bench.turn(:test_cock_3, 1.0).turn(:test_cock_2, 1.0).wait(2).turn(:high_bleed, 2.5).turn(:low_bleed, 2.5).wait(10)
    bench.turn(:high_bleed, 0.0).turn(:low_bleed, 0.0).wait(12)
    shown = format("%.1f", bench.span.shown_at(bench.time_s))
    expect(shown.to_f).to be < 0.0
    bench.act(:jot, item: "check_valve_1_apparent", value: shown).wait(2)
    bench.act(:fill, field: "check_valve_1_apparent", value: shown).act(:submit)
    grade = Nurv::Grading::Grader.grade(bench.variant, bench.log)
    line = grade.lines.find { |one| one.id == :check_valve_1_apparent }
    expect([line.earned, line.mistake == :never_shown]).to eq([0, false])
    expect(grade.failed_outright).not_to include(:never_shown)
  end

  it "reads a date and a time of day as testers write them" do
    day = Date.new(2026, 11, 20)
    written = ["2026-11-20", "11/20/2026", "11/20/26", "20.11.2026", "20/11/2026", "Nov 20, 2026", "20 November 2026"]
    written.each do |text|
      expect([text, Nurv::Written.date(text)]).to eq([text, day])
    end
    ["", "soon", "99/99/2026", "x" * 5_000].each { |text| expect(Nurv::Written.date(text)).to be_nil }
    bench = variant
    checked = Date.iso8601(bench.station.kit_state[:checked_on]).strftime("%m/%d/%Y")
    acts = expert_actions(bench).map { |act| (act[:field] == "kit_checked") ? act.merge(value: checked) : act }
    expect(grade(bench, acts).lines.select(&:lost?)).to eq([])
  end

  it "accuses nobody who touched nothing of anything that did not happen" do
    SHIPPED.procedures.each_value do |procedure|
      grade = grade(bench_of(procedure), [{kind: "submit", at_ms: 1_000, id: "s"}])
      did_not_happen = %i[not_notified water_on_unannounced hoses_wrong hose_not_bled shutoff_valve_2_open
        shutoff_valve_1_open canopy_on canopy_left_off shutoff_valve_1_not_reopened]
      expect([procedure.id, grade.mistakes & did_not_happen]).to eq([procedure.id, []])
      expect(grade.mistakes).to include(:step_not_done)
      expect(grade.pass?).to be(false)
    end
  end
end
