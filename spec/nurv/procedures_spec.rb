# frozen_string_literal: true

RSpec.describe "Every procedure" do
  matrix = Nurv::Expert::Matrix.new(SHIPPED)
  page = Nurv::CommandLine::MatrixPage.new(matrix)

  SHIPPED.procedures.each_value do |procedure|
    describe procedure.title do
      it "finds a healthy assembly healthy and reads its springs" do
        row = matrix.row(procedure, nil, nil)
        expect(row.truth).to be_solvable
        expect(row.truth.verdict.overall).to eq(:pass)
        row.truth.values.each do |item, value|
          next unless procedure.items[item].unit == "psid"

          # The lower-and-hold reading stands where it was set, not at a spring.
          spring = {d3: 1.9}.fetch(procedure.id) { spring_of(procedure, item) }
          expect(value.to_f).to be_within(0.15).of(spring), "#{item} #{value}"
        end
      end

      cells = Sample.of(matrix.cells(procedure), 9)

      it "gives the expert full marks wherever it finds what is wrong" do
        worst =
          cells
            .map { |cell| matrix.row(procedure, *cell) }
            .select { |row| row.truth.solvable? }
            .filter_map do |row|
              bench = Nurv::Stations::Variant.new(matrix.station(procedure, row.fault, row.severity), 1)
              result = Nurv::Grading::Grader.grade(bench, row.truth.run.log)
              "#{row.fault&.id} #{row.severity}: #{result.score} #{result.mistakes}" if result.score < 100.0
            end
        expect(worst).to eq([])
      end

      it "keeps its part of the published matrix up to date" do
        table = File.read("docs/truth-matrix.md")[/## #{Regexp.escape(procedure.title)}.*?(?=\n## |\z)/m]
        # A head, a rule, and a line for each.
        expect(table.scan(/^\|/).size).to eq(matrix.cells(procedure).size + 2)
        lines = cells.map { |cell| page.single_line(matrix.row(procedure, *cell)) }
        expect(lines.reject { |line| table.include?(line) }).to eq([])
      end

      it "says of every step why it matters, and names only mistakes and conditions that are known" do
        procedure.steps.each do |step|
          expect(step.why.to_s.length).to be > 20
          expect(step.mistakes).to be_any, "#{step.id} names no usual mistake"
          expect(SHIPPED.mistakes).to include(
            step.missed,
            *step.must.map { |clause| clause[:mistake].to_sym }
          )
          clauses = step.matched + step.before + step.at_end + (step.situation || [])
          expect(clauses.flat_map(&:keys)).to all(satisfy { |name| Nurv::Grading::Conditions.known?(name) })
          expect(step.after - procedure.steps.map(&:id)).to eq([])
        end
      end
    end
  end

  def spring_of(procedure, item)
    assembly = SHIPPED.assemblies.fetch(procedure.assembly)
    return assembly.openings_psid.values.first if item.to_s.include?("opening")

    assembly.springs_psid.fetch(item.to_s.include?("check_valve_2") ? :check_valve_2 : :check_valve_1)
  end

  it "counts a line gauge for a test begun: back pressure is found before a hose is on" do
    d2 = SHIPPED.procedures.fetch(:d2)
    station = matrix.station(d2, SHIPPED.faults.fetch(:back_pressure), :moderate)
    bench = Nurv::Stations::Variant.new(station, 1)
    log = Nurv::Expert::Truth.of(bench, d2).run.log
    grade = Nurv::Grading::Grader.grade(bench, log, procedure: d2)
    expect(log.map(&:kind) & %i[fit connect]).to eq([:fit])
    expect([grade.score, grade.mistakes]).to eq([100.0, []])
  end

  it "sees water drawn through SOV2 by the no-flow check, however late it is judged, and a weep not" do
    data = SHIPPED.to_data[:faults].find { |one| one[:id] == "shutoff_valve_2_leaks" }
    fall = {0.002 => "needle steady", 0.01 => "needle falls", 0.05 => "needle falls"}
    seen = fall.keys.to_h do |leak_k|
      dc = {edge: "shutoff_valve_2", leak_k: {light: leak_k, moderate: 0.3, gross: 1.0}}
      catalog = SHIPPED.with(faults: [data.merge(sets: data[:sets].merge(dc: dc))])
      d2 = catalog.procedures.fetch(:d2)
      station = Nurv::Expert::Matrix.new(catalog).station(d2, catalog.faults.fetch(:shutoff_valve_2_leaks), :light)
      [leak_k, Nurv::Expert::Truth.of(Nurv::Stations::Variant.new(station, 1), d2).values[:no_flow]]
    end
    expect(seen).to eq(fall)
  end

  it "keeps the published pairs up to date, and gives the expert full marks where both are found: a sample" do
    procedures = %i[r1 d1 p1].map { |id| SHIPPED.procedures.fetch(id) }
    table = File.read("docs/truth-pairs.md")
    found =
      procedures
        .flat_map do |procedure|
          matrix
            .pairs_of(procedure)
            .then { |pairs| Sample.of(pairs, 9) }
            .map do |pair|
              row = matrix.pair_row(procedure, pair)
              truth = row.truth
              section = table[/## #{Regexp.escape(procedure.title)}.*?(?=\n## |\z)/m]
              expect(section).to include(page.pair_line(row))
              if truth.solvable?
                Nurv::Grading::Grader.grade(
                  Nurv::Stations::Variant.new(matrix.station(procedure, pair, :moderate), 1),
                  truth.run.log
                ).score
              end
            end
        end
        .compact
    expect(found.size).to be >= Sample.times(3, 1)
    expect(found.uniq).to eq([100.0])
  end

  it "say which faults they can name as the cause" do
    r1, r2 = SHIPPED.procedures.values_at(:r1, :r2)
    faults = SHIPPED.faults
    seen = %i[check_valve_1_fouled relief_valve_stuck test_cock_2_blocked].map { |id| r1.names?(faults.fetch(id)) }
    expect(seen).to eq([true, true, true])
    expect([r1, r2].map { |procedure| procedure.names?(faults.fetch(:check_valve_2_weak_spring)) }).to eq([false, true])
  end
end
