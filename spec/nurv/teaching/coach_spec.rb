# frozen_string_literal: true

# A coach who is followed to the letter, by a tester who reads nothing else.
RSpec.describe Nurv::Teaching::Coach do
  include Followed

  it "leads whoever follows it to full marks at every demo station" do
    some = Sample.of(SHIPPED.demo_stations, 6)
    lost =
      some.flat_map do |station|
        variant = Nurv::Stations::Variant.new(station, 1)
        station.procedures.filter_map do |procedure|
          grade = marked(variant, followed(variant, procedure), procedure)
          "#{station.id} #{procedure.id}: #{grade.score} #{grade.mistakes}" if grade.score < 100.0
        end
      end
    expect(lost).to eq([])
  end

  SHIPPED.procedures.values_at(*Sample.times(SHIPPED.procedures.keys, %i[d1 p2])).each do |procedure|
    it "leads them to full marks at generated stations, by #{procedure.title}" do
      lost =
        Nurv::Expert::Generator.new(procedure, :hard, 77, SHIPPED).stations(Sample.times(10, 1)).filter_map do |station|
          variant = Nurv::Stations::Variant.new(station, 1)
          grade = marked(variant, followed(variant, procedure, late_s: 1.0), procedure)
          "#{station.id}: #{grade.score} #{grade.mistakes}" if grade.score < 100.0
        end
      expect(lost).to eq([])
    end
  end

  it "asks first, gives the reason second and the act last, in words for each" do
    station = SHIPPED.demo_stations.find { |one| one.id == :boat_yard }
    variant = Nurv::Stations::Variant.new(station, 1)
    procedure = station.procedures.first
    about = Nurv::Words::About.new(procedure: procedure, assembly: station.assembly, kit: station.kit, repairs: {})
    said = []
    followed(variant, procedure) do |advice|
      said << [advice.question, advice.reason, advice.act].map do |list|
        list.map { |remark| SHIPPED.words.tell(remark, about) }.join(" ")
      end
    end
    expect(said.map(&:first)).to all(match(/\?/))
    expect(said.map(&:last).join(" ")).to include("Put the low hose on TC3.")
    expect(said.join(" ")).not_to match(/_|%/)
    # Down the branch that the water has taken, and why.
    expect(said.map(&:first).join(" ")).to match(/Seen: /)
    # And no longer where that is all behind one.
    expect(said.last(5).map(&:first).join(" ")).not_to match(/Seen: /)
  end

  it "says with a short wait what comes after it, and says nothing of what hangs on the water" do
    station = SHIPPED.demo_stations.find { |one| one.id == :bottle_rinser }
    variant = Nurv::Stations::Variant.new(station, 1)
    procedure = station.procedures.first
    run = Nurv::Expert::Truth.of(variant, procedure).run
    advised = ->(time_s) do
      log = Nurv::Bench::Log.new(run.log.take_while { |action| action.time_s <= time_s })
      described_class.new(procedure).advice(Nurv::Bench::Replay.new(variant, log), time_s + 0.2)
    end
    opened = run.log.find { |action| action[:valve] == "test_cock_4" }
    flushing = advised.call(opened.time_s)
    expect(flushing.seconds).to be_between(1.0, 2.0)
    expect(flushing.act.map(&:id)).to eq(%i[coach_wait coach_open])
    lowered = run.log.find { |action| action[:valve] == "low_control" && action[:to].positive? }
    falling = advised.call(lowered.time_s)
    expect(falling.act.map(&:id)).to eq([:coach_wait])
  end

  it "passes over what it is too late for, and leads the rest to its end" do
    station = SHIPPED.demo_stations.find { |one| one.id == :bottle_rinser }
    variant = Nurv::Stations::Variant.new(station, 1)
    procedure = station.procedures.first
    run = Nurv::Expert::Truth.of(variant, procedure).run
    flush = run.moments.fetch(:flush)...run.moments.fetch(:connect)
    begun = run.log.reject { |action| flush.cover?(action.time_s) || action.time_s > run.moments.fetch(:connect) + 3.0 }
    grade = marked(variant, followed(variant, procedure, acts: begun), procedure)
    expect(grade.mistakes).to eq([:test_cock_not_flushed])
  end

  # Up to a step, and then what comes after it for eight acts, as far as the bench lets one.
  def ignoring(variant, procedure, step)
    run = Nurv::Expert::Truth.of(variant, procedure).run
    begins_s = run.moments.fetch(step)
    ends_s = run.moments.values.find { |moment_s| moment_s > begins_s } || run.end_s
    span = Nurv::Bench::Replay.new(variant, Nurv::Bench::Log.new).first
    meant =
      run.log.select { |act| act.time_s < begins_s } +
      run.log.select { |act| act.time_s >= ends_s && act.kind != :submit }.first(8).map do |act|
        Nurv::Bench::Action.new(act.to_h.merge(at_ms: act.at_ms - ((ends_s - begins_s - 2.0) * 1000).round))
      end
    meant.select do |act|
      span = span.after(act)
    rescue Nurv::RefusedAction
      nil
    end
  end

  # Steps at which the tester does something.
  def steps_done(variant, procedure)
    run = Nurv::Expert::Truth.of(variant, procedure).run
    spans = [*run.moments.values, run.end_s].each_cons(2)
    run.moments.keys.zip(spans).filter_map do |step, (from_s, to_s)|
      step if run.log.any? { |act| act.time_s.between?(from_s, to_s - 0.001) }
    end
  end

  it "leads back who went on for eight acts without a step, at the price of that step" do
    places = Sample.of(SHIPPED.demo_stations, 7).flat_map do |station|
      variant = Nurv::Stations::Variant.new(station, 1)
      station.procedures.flat_map do |procedure|
        steps_done(variant, procedure).map { |step| [variant, procedure, step] }
      end
    end
    lost =
      Sample.of(places, 9).filter_map do |variant, procedure, step|
        log = followed(variant, procedure, acts: ignoring(variant, procedure, step))
        lines = marked(variant, log, procedure).lines.select(&:lost?).map(&:id)
        # After a repair it is the same line of the second test.
        more = lines.map { |id| id.to_s.delete_prefix("retest_").to_sym } - [step]
        "#{variant.station.id} #{procedure.id} #{step}: #{more}" if more.any?
      end
    expect(lost).to eq([])
  end

  it "goes on with who plays with a valve where a part is to be mended" do
    station = SHIPPED.demo_stations.find { |one| one.id == :rp_mend }
    variant = Nurv::Stations::Variant.new(station, 1)
    procedure = station.procedures.first
    done = Nurv::Expert::Truth.of(variant, procedure).run.log.take_while { |act| act.kind != :repair }[0..-3]
    from_ms = done.last.at_ms
    played = (1..6).map do |turn|
      fields = {kind: "turn", valve: "high_bleed", to: turn.odd? ? 1.0 : 0.0, speed: "normal"}
      Nurv::Bench::Action.new({**fields, at_ms: from_ms + turn * 1000, id: "played-#{turn}"})
    end
    grade = marked(variant, followed(variant, procedure, acts: done + played), procedure)
    expect(grade.score).to be > 95.0
  end
end
