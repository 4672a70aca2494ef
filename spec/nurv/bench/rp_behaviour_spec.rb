# frozen_string_literal: true

RSpec.describe "An RP on the bench" do
  def flush(bench, order)
    worst = 0.0
    order.each do |cock|
      bench.turn(:"test_cock_#{cock}", 1.0)
      worst = [
        worst,
        *bench
          .span
          .trajectory
          .frame_times(bench.time_s, bench.time_s + 2.0)
          .map { |time| bench.span.flow_at(time, :relief_valve) }
      ].max
      bench.wait(2)
    end
    worst
  end

  it "keeps its relief valve shut when flushed 4-3-2-1, and spits when TC2 or TC1 is opened first" do
    expect(flush(tester, [4, 3, 2, 1])).to eq(0.0)
    expect(flush(tester, [2, 1, 3, 4])).to be > 1.0
    expect(flush(tester, [1, 2, 3, 4])).to be > 1.0
  end

  it "reads the relief valve's opening point, later and lower the faster the needle falls" do
    needles =
      [0.125, 0.25, 2.0].map do |turns|
        bench = tester.two_hoses.turn(:high_control, 1.0).wait(2).turn(:low_control, turns)
        bench.span.needle_at(bench.discharge(60))
      end
    expect(needles[0]).to be_within(0.1).of(3.0)
    expect(needles[1]).to be_within(0.1).of(3.0)
    expect(needles[2]).to be < 2.85
  end

  it "lets a fouled CV1 sink to the relief's opening point: light slowly, moderate soon, gross at once" do
    times =
      %i[light moderate gross].map do |severity|
        tester(faults: {check_valve_1_fouled: severity}).two_hoses.discharge(240) - 0
      end
    starts = tester.two_hoses.time_s
    expect(times[0] - starts).to be_between(90, 200)
    expect(times[1] - starts).to be_between(5, 40)
    expect(times[2] - starts).to be <= 1
  end

  it "falls a little with pressure behind a tight CV2, and to the relief's opening point behind a fouled one" do
    tight = tester.two_hoses.bypass_on_test_cock_4.turn(:bypass_control, 2.5).wait(60)
    expect(tight.needle).to be_between(7.0, 7.8)
    expect(tight.flow(:relief_valve)).to eq(0.0)

    leaking =
      tester(faults: {check_valve_2_fouled: :moderate}).two_hoses.bypass_on_test_cock_4.turn(:bypass_control, 2.5)
    expect(leaking.discharge(60) - leaking.time_s).to be_between(5, 30)
  end

  it "will not open its relief while SOV2 leaks with demand, until CV2 is held shut from TC1" do
    bench =
      tester(faults: {shutoff_valve_2_leaks: :moderate})
        .two_hoses
        .turn(:high_control, 1.0)
        .wait(2)
        .turn(:low_control, 0.25)
    expect(bench.discharge(40)).to be_nil
    bench.wait(40).turn(:low_control, 0.0).act(:connect, hose: "bypass", to: "test_cock_1", end: "near")
    bench.connect(bypass: :test_cock_4).turn(:test_cock_1, 1.0).turn(:test_cock_4, 1.0).wait(3)
    bench.turn(:low_bleed, 1.0).wait(2).turn(:low_bleed, 0.0, "slow").wait(4).turn(:low_control, 0.25)
    opening = bench.discharge(40)
    expect(opening).not_to be_nil
    expect(bench.span.needle_at(opening)).to be_within(0.15).of(3.0)
  end

  it "wanders with the supply on two hoses, and stands still on one hose with SOV1 shut" do
    swinging = tester(line: {pressure_psi: 60, swing_psi: 1.5}).two_hoses
    needles = (0..200).map { |part| swinging.span.needle_at(swinging.time_s + part * 0.1) }
    expect(needles.max - needles.min).to be > 1.0

    still =
      tester(line: {pressure_psi: 60, swing_psi: 1.5})
        .connect(high: :test_cock_2)
        .turn(:test_cock_2, 1.0)
        .turn(:high_bleed, 2.5)
        .wait(12)
    still
      .turn(:high_bleed, 0.0)
      .wait(1)
      .turn(:shutoff_valve_2, 0.0)
      .turn(:shutoff_valve_1, 0.0)
      .wait(2)
      .act(:level, to: 3.0)
      .turn(:test_cock_3, 1.0)
      .wait(20)
    needles = (0..200).map { |part| still.span.needle_at(still.time_s + part * 0.1) }
    expect(needles.max - needles.min).to be < 0.05
    expect(needles.last).to be_within(0.1).of(8.0)
  end

  it "reads wrong and slow through an unbled hose" do
    bench = tester.two_unbled_hoses.wait(10)
    expect((bench.needle - 8.0).abs).to be > 0.05
    expect(bench.span.air_in_hose(:low, bench.time_s)).to be > 0.5
  end

  it "pegs its needle on one hose at line pressure" do
    expect(tester.connect(high: :test_cock_2).turn(:test_cock_2, 1.0).wait(5).needle).to eq(15.4)
  end

  it "shows a gauge's zero error at rest" do
    expect(
      tester(kit: {id: "five_valve", serial: "NK-1", checked_on: "2026-03-02", zero_error_psid: 0.6}).wait(3).needle
    ).to be_within(0.01).of(0.6)
  end

  it "freezes a digital reading and lets it go" do
    bench = tester(kit: {id: "five_valve", face: "digital", serial: "NK-1", checked_on: "2026-03-02"}).two_hoses
    bench.act(:capture).wait(1).turn(:high_control, 1.0).wait(1).turn(:low_control, 0.5).wait(6)
    expect(bench.span.shown_at(bench.time_s)).to be_within(0.1).of(8.0)
    expect(bench.act(:release).span.shown_at(bench.time_s)).to be < 5.0
  end

  it "comes back from a snapshot to the last bit" do
    bench =
      tester
        .two_hoses
        .turn(:high_control, 1.0)
        .wait(2)
        .turn(:low_control, 0.25)
        .wait(1.3)
        .act(:jot, item: "line_pressure", value: "60")
    copy =
      Nurv::Bench::Span.new(bench.variant, Nurv::Bench::Snapshot.load(Nurv::Bench::Snapshot.dump(bench.span.state)))
    expect(copy.water_at(bench.time_s + 7.0).to_h).to eq(bench.span.water_at(bench.time_s + 7.0).to_h)
    expect(copy.state.to_h.except(:controls)).to eq(bench.span.state.to_h.except(:controls))
  end
end
