# frozen_string_literal: true

# Whoever does it right loses nothing; whoever makes a mistake is told of that one and of no other. A sample here; the
# whole is `bin/nurv fairness`, kept in docs/fairness.md.
RSpec.describe "Fairness" do
  faults = {
    r1: %i[shutoff_valve_2_leaks],
    r2: %i[shutoff_valve_1_leaks],
    d1: %i[shutoff_valve_1_leaks],
    d2: %i[check_valve_2_fouled],
    d3: %i[check_valve_1_fouled],
    p1: %i[shutoff_valve_1_leaks],
    p2: %i[air_inlet_stuck]
  }

  SHIPPED.procedures.each_value.with_index do |procedure, turn|
    it "holds for logs of #{procedure.title}" do
      survey = Nurv::Fairness::Survey.new(SHIPPED, procedures: [procedure], faults: faults.fetch(procedure.id))
      # The healthy assembly, and one of the others.
      healthy, *others = survey.places
      cases = Sample.of(healthy.call, 23) + Sample.of(Sample.of(others.rotate(turn), others.size).flat_map(&:call), 9)
      trials = survey.try(cases)
      expect(trials.size).to be >= cases.size / 2
      expect(trials.reject(&:right?).map(&:to_s)).to eq([])
    end
  end

  it "fails each cheat, and gives next to nothing to one who left the bench alone" do
    results = Nurv::Fairness::Cheats.new(SHIPPED).results
    expect(results.size).to be > 20
    expect(results.select { |one| one.grade.pass? }.map(&:title)).to eq([])
    expect(results.select(&:untouched).map { |one| one.grade.score }.max).to be <= 30.0
  end

  it "marks what stands at the edge by one rule" do
    rows = Nurv::Fairness::Borders.new(SHIPPED).rows(every: Sample.times(1, 3))
    expect(rows.size).to be > Sample.times(25, 8)
    expect(rows.reject(&:right?).map { |row| [row.written, row.verdict, row.wanted, row.got] }).to eq([])
  end
end
