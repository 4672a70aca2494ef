# frozen_string_literal: true

require "spec_helper"

RSpec.describe "Tags that the tester hangs" do
  include BenchWork

  def names(bench) =
    Nurv::Bench::Tags.names(bench.variant.station, bench.span.state.tags, SHIPPED.words)

  let(:bench) { tester(tags: "to_hang") }

  it "calls what has none by where it is seen, from the left, whichever way the water flows" do
    right, left = %w[to_the_right to_the_left].map { |way| tester(tags: "to_hang", direction: way) }
    cocks = %i[test_cock_1 test_cock_2 test_cock_3 test_cock_4]
    seen = ["Far left cock", "Left cock", "Right cock", "Far right cock"]
    expect(names(right).values_at(*cocks)).to eq(seen)
    expect(names(left).values_at(*cocks)).to eq(seen.reverse)
    expect(names(left)).to include(shutoff_valve_1: "Right shutoff", shutoff_valve_2: "Left shutoff")
  end

  it "hangs each in one place, takes it off again, and leaves the water alone" do
    water = bench.span.trajectory
    bench.act(:tag, at: "test_cock_3", as: "test_cock_2").wait(1).act(:tag, at: "test_cock_2", as: "test_cock_2")
    expect(names(bench)).to include(test_cock_3: "Right cock", test_cock_2: "TC2")
    bench.wait(1).act(:tag, at: "test_cock_2", as: "")
    expect(bench.span.state.tags).to eq({})
    expect(bench.span.trajectory).to equal(water)
    hung = bench.act(:tag, at: "test_cock_4", as: "test_cock_1").span.state
    expect(Nurv::Bench::Snapshot.load(Nurv::Bench::Snapshot.dump(hung)).tags).to eq(test_cock_4: :test_cock_1)
  end

  it "refuses a tag that does not fit, that hangs there, that is not there, or where all bear their names" do
    expect { bench.act(:tag, at: "test_cock_2", as: "shutoff_valve_1") }.to be_refused(/test cock's tag goes on/)
    expect { bench.act(:tag, at: "high_bleed", as: "test_cock_1") }.to be_refused(/no valve called/)
    expect { bench.act(:tag, at: "test_cock_2", as: "") }.to be_refused(/no tag on it/)
    bench.act(:tag, at: "test_cock_2", as: "test_cock_2")
    expect { bench.act(:tag, at: "test_cock_2", as: "test_cock_2") }.to be_refused(/has that tag/)
    expect { tester.act(:tag, at: "test_cock_2", as: "test_cock_2") }.to be_refused(/bears its name/)
  end

  %i[r1 d2 p1].each do |id|
    it "earns the expert full marks by #{id}, who numbers from the inlet, and reads the same values" do
      kind = SHIPPED.procedures.fetch(id)
      place = ->(**more) {
        variant(
          assembly: kind.assembly.to_s,
          procedures: [id.to_s],
          kit: {id: kind.kits.first.to_s, serial: "NK-1", checked_on: "2026-03-02"},
          **more
        )
      }
      bare = place.call(tags: "to_hang", direction: "to_the_left")
      expect(grade(bare, expert_actions(bare)).score).to eq(100.0)
      values = [bare, place.call].map { |one| Nurv::Expert::Truth.of(one, one.station.procedures.first).values }
      expect(values.uniq.size).to eq(1)
    end
  end

  it "leads who numbers from the wrong end to the wrong hoses, and the assembly is passed by nobody" do
    place = variant(tags: "to_hang", direction: "to_the_left", faults: {check_valve_2_fouled: :moderate})
    all = Nurv::Bench::Tags.all(place.station)
    ends = {1 => 4, 2 => 3, 3 => 2, 4 => 1}
    turned = all.to_h do |control|
      number = control.to_s[-1].to_i
      shutoff = control.to_s.start_with?("shutoff")
      [control, shutoff ? :"shutoff_valve_#{3 - number}" : :"test_cock_#{ends[number]}"]
    end
    # Whoever hung the tags so acts at what bears the name.
    swap = ->(value) { turned.fetch(value.to_s.to_sym) { next value }.to_s }
    acts = expert_actions(place).map do |act|
      next act.merge(at: swap.call(act[:at])) if act[:kind] == "tag"
      next act unless %w[turn connect fit clean].include?(act[:kind])

      act.merge({valve: act[:valve], to: act[:to], at: act[:at]}.compact.transform_values { |value| swap.call(value) })
        .then { |moved| (act[:kind] == "turn") ? moved.merge(to: act[:to]) : moved }
    end
    bench = Tester.new(place)
    done = acts.select do |act|
      bench.instance_variable_set(:@time_s, act[:at_ms] / 1000.0)
      bench.act(act[:kind].to_sym, **act.except(:kind, :at_ms, :id))
    rescue Nurv::RefusedAction
      nil
    end
    graded = grade(place, done)
    expect(graded.mistakes).to include(:hoses_wrong)
    expect(graded).not_to be_pass
    expect(graded.score).to be < 60
  end

  it "is drawn by the seed where a station leaves it open" do
    drawn = (1..12).map { |seed| variant(seed: seed, tags: "either").station.tags_to_hang? }
    expect(drawn.uniq.size).to eq(2)
    expect(drawn).to eq((1..12).map { |seed| variant(seed: seed, tags: "either").station.tags_to_hang? })
  end
end
