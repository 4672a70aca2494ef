# frozen_string_literal: true

# A bench put back, act by act, from whatever was done to it.
RSpec.describe Nurv::Teaching::WayBack do
  # Each act of a correct test with the bench after it, but for the last, which hands it in.
  def entries_of(station_id)
    station = SHIPPED.demo_stations.find { |one| one.id == station_id }
    variant = Nurv::Stations::Variant.new(station, 1)
    log = Nurv::Expert::Truth.of(variant, station.procedures.first).run.log
    Nurv::Bench::Replay.new(variant, log).entries[0..-2]
  end

  def spans_of(station_id) = entries_of(station_id).map(&:span)

  # @return [Array(Nurv::Bench::Span, Array<Nurv::Bench::Action>)] what it comes to, by which acts
  def put_back(span, setting)
    acts = []
    while (fields = described_class.new(span.state, setting).next_act)
      raise "it does not end: #{acts.last(4).map(&:to_json)}" if acts.size > 60

      at_ms = ((span.from_s + 1.0) * 1000).round
      acts << Nurv::Bench::Action.new({**fields, at_ms: at_ms, id: "back-#{acts.size}"})
      span = span.after(acts.last)
    end
    [span, acts]
  end

  %i[bottle_rinser rp_swinging dc_healthy dc_masked dc_hold pvb_low].each do |station|
    it "comes from any moment of a test to any other, refused nowhere, at #{station}" do
      spans = spans_of(station)
      random = Random.new(12)
      12.times do
        from, to = spans.sample(2, random: random)
        wanted = described_class::Setting.of(to.state)
        state = put_back(from, wanted).first.state
        expect(state.hose_ends).to eq(wanted.hose_ends)
        expect(state.fittings).to eq(wanted.fittings)
        expect(state.gauge_in).to be_within(described_class::ABOUT_IN).of(wanted.gauge_in)
        wanted.controls.each do |control, turns|
          stands = state.controls.key?(control) ? state.rest_position(control) : 0.0
          next if control == :shutoff_valve_2 && stands.zero?

          # A needle of a tee that is off turns nothing.
          next if control == :tee_needle && !wanted.fittings.key?(:bleed_off_tee)

          expect(described_class.as_far?(stands, turns)).to be(true), "#{control}: #{stands}, not #{turns}"
        end
      end
    end
  end

  it "moves no hose on an open cock, and gives nobody water that was off" do
    spans = spans_of(:bottle_rinser)
    busy = spans.max_by { |span| span.state.controls.count { |_, ramp| ramp.to.positive? } }
    span = busy
    _, acts = put_back(busy, described_class::Setting.of(spans.first.state))
    acts.each do |act|
      if act.kind == :disconnect
        cock = span.state.hose_ends.fetch(act[:hose].to_sym)
        expect(span.state.closed?(cock)).to be(true), act.to_json
      end
      span = span.after(act)
    end
    expect(acts.map(&:kind).tally[:disconnect]).to be >= 2
    expect(acts.select { |act| act[:valve] == "shutoff_valve_2" && act[:to].positive? }).to eq([])
  end

  it "follows each act that a tester does, as the bench does" do
    entries_of(:dc_healthy).each_cons(2) do |before, after|
      setting = described_class::Setting.of(before.span.state)
      act = after.action
      told = setting.after(act.kind, act.fields)
      real = described_class::Setting.of(after.span.state)
      expect(told.to_h.except(:controls)).to eq(real.to_h.except(:controls)), act.to_json
      expect(told.controls.slice(*real.controls.keys)).to include(real.controls.slice(*setting.controls.keys))
    end
  end
end
