# frozen_string_literal: true

# What each error cost a reading, against the same test carried out without it.
RSpec.describe Nurv::Teaching::Cost do
  matrix = Nurv::Expert::Matrix.new(SHIPPED)

  def variant(matrix, procedure) = Nurv::Stations::Variant.new(matrix.station(procedure, nil, nil), 1)

  # A log of the correct tester with some acts bent, replayed and graded.
  def bent(place, procedure)
    acts = Nurv::Expert::Truth.of(place, procedure).run.log.map { |action| yield(action.to_h) }.compact
    acts = acts.each_with_index.sort_by { |act, index| [act[:at_ms], index] }.map(&:first)
    log = Nurv::Bench::Log.new(acts.map { |act| Nurv::Bench::Action.new(act) })
    replay = Nurv::Bench::Replay.new(place, log)
    [replay, Nurv::Grading::Grader.grade(place, log, procedure: procedure)]
  end

  it "bills a gauge that is held too high by what the same test reads with it level" do
    r2 = SHIPPED.procedures.fetch(:r2)
    place = variant(matrix, r2)
    replay, grade = bent(place, r2) { |act| (act[:kind] == "level") ? act.merge(to: act[:to] + 9.0) : act }
    bills = described_class.new(replay, grade).bills
    expect(bills.map(&:item)).to include(:check_valve_1_confirmed)
    level = Nurv::Bench::Replay.new(place, Nurv::Expert::Truth.of(place, r2).run.log)
    bills.each do |bill|
      cause = bill.causes.find { |one| one.mistake == :gauge_not_level }
      expect(cause.psid).to be_within(0.01).of(replay.needle_at(bill.at_s) - level.needle_at(bill.at_s))
      expect(cause.psid).to be_within(0.02).of(-Nurv::Units.head_psi(9.0))
      expect(bill.right_psid).to be_within(0.01).of(level.needle_at(bill.at_s))
    end
  end

  it "bills a reading that was taken too early by what the needle still had to run" do
    p1 = SHIPPED.procedures.fetch(:p1)
    r1 = SHIPPED.procedures.fetch(:r1)
    right = [p1, r1].map do |procedure|
      described_class.new(*bent(variant(matrix, procedure), procedure, &:itself)).bills
    end
    expect(right).to eq([[], []])
    place = variant(matrix, r1)
    closed_ms = nil
    replay, grade =
      bent(place, r1) do |act|
        closed_ms = act[:at_ms] if act[:kind] == "turn" && act[:valve] == "low_bleed" && act[:to].zero? && !closed_ms
        (act[:kind] == "jot" && act[:item] == "check_valve_1_apparent") ? act.merge(at_ms: closed_ms + 900) : act
      end
    expect(grade.mistakes).to include(:read_before_steady)
    bill = described_class.new(replay, grade).bill(r1.items.fetch(:check_valve_1_apparent))
    early = bill.causes.find { |cause| cause.mistake == :read_before_steady }
    expect(early.psid).to be_within(0.01).of(replay.needle_at(bill.at_s) - replay.needle_at(bill.at_s + 12.0))
    expect(early.psid).to be > 0.1
  end

  it "takes a gauge off its zero for what it is, and says all together what they did" do
    station = SHIPPED.demo_stations.find { |one| one.id == :bottle_rinser }
    data = Nurv::Facts.of({**station.data, kit: {**station.data[:kit], zero_error_psid: 0.1}})
    place = Nurv::Stations::Variant.new(Nurv::Stations::Station.new(data, SHIPPED), 1)
    replay, grade = bent(place, SHIPPED.procedures.fetch(:r1), &:itself)
    bill = described_class.new(replay, grade).bill(SHIPPED.procedures.fetch(:r1).items.fetch(:check_valve_1_confirmed))
    expect(bill.causes.map(&:mistake)).to eq([:gauge_off_zero])
    expect(bill.causes.first.psid).to be_within(0.001).of(0.1)
    expect(bill.together_psid).to be_within(0.001).of(0.1)
    expect(bill).not_to be_lean
  end
end
