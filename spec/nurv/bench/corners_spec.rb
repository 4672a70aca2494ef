# frozen_string_literal: true

require "support/core/random_acts"

# What nobody thinks of trying: random acts at random stations and pressures. NURV_ALL=1 tries thousands.
RSpec.describe "A bench in its corners" do
  benches = ENV["NURV_ALL"] ? 350 : 14
  tries = ENV["NURV_ALL"] ? 60 : 45
  vapor_psi = Nurv::Hydraulics::Cavity::VAPOR_PSI

  it "has water nowhere below its vapor pressure" do
    lowest = 0.0
    (benches * 2).times do |seed|
      RandomActs.new(SHIPPED.demo_stations, seed, drains: seed.even?).do_some(tries) do |tester|
        tester.span.trajectory.extend_to(tester.span.from_s + 5.0).steps.each do |step|
          lowest = [lowest, step.finish.pressures.min].min
        end
      end
      expect([seed, lowest]).to match([seed, be >= vapor_psi])
    end
    # Something was pulled apart, or nothing was tried.
    expect(lowest).to be < -10.0
  end

  it "gives the cavity's water back when it is filled again" do
    station = SHIPPED.demo_stations.find { |item| item.id == :dc_healthy }
    line = station.data[:line].merge(pressure_psi: 150)
    high = Nurv::Stations::Station.new(Nurv::Facts.of(station.data.merge(line: line)), SHIPPED)
    bench = Tester.new(Nurv::Stations::Variant.new(high, 1))
    bench.turn(:shutoff_valve_1, 0.0).wait(3).turn(:test_cock_2, 1.0).wait(5).turn(:test_cock_2, 0.0).wait(2)
    bench.turn(:shutoff_valve_2, 0.0).wait(3).turn(:test_cock_3, 1.0).wait(10)
    expect(bench.pressure(:inlet)).to be_between(vapor_psi, -13.0)
    bench.turn(:test_cock_3, 0.0).wait(1).turn(:shutoff_valve_1, 1.0).wait(10)
    expect(bench.pressure(:inlet)).to be_within(0.5).of(150.0)
    errors = Ledger.of(Nurv::Bench::Replay.new(bench.variant, bench.log))
    expect(errors.first.abs).to be < 0.3
  end

  # Taken up from its snapshot after random acts, as another process would, again and again.
  it "goes on from any snapshot to the last bit" do
    benches.times do |seed|
      random = Random.new(seed)
      taken = nil
      other = nil
      RandomActs.new(SHIPPED.demo_stations, seed + 5_000).do_some(tries) do |tester|
        action = tester.actions.last
        other = other&.after(action)
        if other.nil? || random.rand(4).zero?
          text = Nurv::Bench::Snapshot.dump(tester.span.state)
          other = Nurv::Bench::Span.new(tester.span.variant, Nurv::Bench::Snapshot.load(text))
          taken = tester.actions.size
        end
        times = [action.time_s, action.time_s + 0.37, action.time_s + 2.0]
        seen = ->(span) { times.map { |time| [span.needle_at(time), span.water_at(time).to_h] } }
        expect([seed, taken, seen.call(other)]).to eq([seed, taken, seen.call(tester.span)])
      end
    end
  end

  it "spits at a bleed no longer than its own hose has air to give" do
    bench = tester(procedures: ["r1"]).connect(high: :test_cock_2, low: :test_cock_3)
    bench.turn(:test_cock_2, 1.0).wait(1).turn(:high_control, 2.5).turn(:low_control, 2.5).wait(1)
    bench.turn(:low_bleed, 1.0).wait(8)
    flows = ->(time) { bench.span.trajectory.volumes_at(time, [:low_bleed])[:low_bleed] }
    water = ->(time) { bench.span.trajectory.flows_at(time, [:low_bleed])[:low_bleed] }
    late = bench.time_s + 20
    expect(bench.span.air_in_hose(:low, late)).to be > 0.1
    expect(flows.call(late)).to be > 5.0
    expect(water.call(late) / flows.call(late)).to be_within(0.01).of(1.0)
  end

  include BenchWork

  it "fills a hose by a trickle in the time that a plug of water takes" do
    trickle = 4.0
    seconds = (1..200).find { |second| Nurv::Hydraulics::Hose.swept(1.0, trickle, second) < 0.08 }
    expect(seconds).to be_between(10, 16)
    # In one go or in many steps, it is the same.
    many = (1..40).reduce(1.0) { |air, _| Nurv::Hydraulics::Hose.swept(air, trickle, 0.5) }
    expect(many).to be_within(1.0e-9).of(Nurv::Hydraulics::Hose.swept(1.0, trickle, 20.0))
  end

  it "does not take a closed bypass hose that test cock 4 is opened onto for a reset" do
    bench = tester(procedures: ["r1"]).two_hoses.turn(:high_control, 1.0).wait(2)
    bench.turn(:bypass_control, 2.5).wait(8).turn(:bypass_control, 0.0).wait(1).turn(:low_control, 0.25)
    bench.wait((bench.discharge(60) - bench.time_s).round(3)).turn(:low_control, 0.0).wait(1)
    before = bench.needle
    bench.connect(bypass: :test_cock_4).turn(:test_cock_4, 1.0).wait(2)
    expect(bench.needle - before).to be_between(0.0, 1.0)
  end

  it "calls no weep a leak at a high line pressure that it does not call one at a low one" do
    weep = lambda do |psi|
      data = SHIPPED.demo_stations.find { |item| item.id == :dc_healthy }.data
      data = data.merge(line: data[:line].merge(pressure_psi: psi), procedures: ["d2"], kit: {id: "three_valve"})
      station = Nurv::Stations::Station.new(Nurv::Facts.of(data), SHIPPED)
      Nurv::Expert::Truth.of(Nurv::Stations::Variant.new(station, 1), SHIPPED.procedures.fetch(:d2)).diagnoses
    end
    expect([20, 60, 90, 150].map { |psi| weep.call(psi) }.uniq).to eq([[]])
    limits = [30, 60, 120].map { |psi| Nurv::Expert::Eyes.limit_psid(0.45, 60, psi) }
    expect(limits.map { |psid| psid.round(3) }).to eq([0.318, 0.45, 0.636])
  end

  it "spits from a two-inch relief valve as from a one-inch one when test cocks are flushed in the wrong order" do
    runs = [1, 2].map do |size_in|
      data = SHIPPED.demo_stations.find { |item| item.id == :bottle_rinser }.data.merge(size_in: size_in)
      station = Nurv::Stations::Station.new(Nurv::Facts.of(data), SHIPPED)
      bench = Tester.new(Nurv::Stations::Variant.new(station, 1))
      bench.turn(:test_cock_2, 1.0, "fast").wait(2)
      !bench.discharge(3.0).nil?
    end
    expect(runs.uniq.size).to eq(1)
  end
end
