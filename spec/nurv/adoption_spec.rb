# frozen_string_literal: true

# A procedure as an authority has adopted it: every way of every setting, and what an instructor changes besides.
RSpec.describe "Adopted procedures" do
  matrix = Nurv::Expert::Matrix.new(SHIPPED)
  r1 = SHIPPED.procedures.fetch(:r1)

  def bench(matrix, procedure, fault = nil)
    station = matrix.station(procedure, fault && SHIPPED.faults.fetch(fault), fault && :moderate)
    Nurv::Stations::Variant.new(station, 1)
  end

  def score(bench, log, procedure) = Nurv::Grading::Grader.grade(bench, log, procedure: procedure)

  def log_of(bench, procedure) = Nurv::Expert::Truth.of(bench, procedure).run.log

  SHIPPED.procedures.each_value do |procedure|
    it "gives full marks to who works to any way of any setting of #{procedure.title}" do
      expect(procedure.settings.map(&:choices)).to all(have_attributes(size: be >= 2))
      lost =
        Sample.of(procedure.settings.flat_map { |one| one.choices.map { |choice| [one, choice] } }, 5)
          .filter_map do |setting, choice|
            adopted = procedure.adjusted({settings: {setting.id => choice.id.to_s}})
            place = bench(matrix, procedure)
            graded = score(place, log_of(place, adopted), adopted)
            "#{setting.id}: #{choice.id}: #{graded.mistakes}" if graded.score < 100.0
          end
      expect(lost).to eq([])
    end
  end

  it "marks who works to another school just for what differs, and as shipped nobody for a school that is named" do
    place = bench(matrix, r1)
    early = r1.adjusted({settings: {shutoff_valve_2_closed: "before_bleeding"}})
    expect(score(place, log_of(place, r1), early).mistakes).to eq([:other_school])
    expect(score(place, log_of(place, early), r1).score).to eq(100.0)
  end

  it "makes of a leaking shutoff what the adopted procedure makes of it" do
    d3 = SHIPPED.procedures.fetch(:d3)
    place = bench(matrix, d3, :shutoff_valve_2_leaks)
    wholes =
      %w[fails not_completed either].map do |way|
        Nurv::Expert::Truth.of(place, d3.adjusted({settings: {leaking_shutoff: way}})).then do |truth|
          truth.overalls(truth.verdict)
        end
      end
    expect(wholes).to eq([%i[fail], %i[not_completed], %i[not_completed fail]])
  end

  it "takes a hose bled through a cock for its flushing, where that is accepted, and a bare cock in any case" do
    place = bench(matrix, r1)
    accepted = r1.adjusted({settings: {flush_through_hoses: "accepted"}})
    bare = ->(cocks) do
      hands = r1.acted(Nurv::Expert::Truth.of(place, r1).steps) do |id, acts|
        (id == :flush) ? acts.select { |act| act.fetch(:turn, {}).keys.all? { |cock| cocks.include?(cock) } } : acts
      end
      log_of(place, hands)
    end
    some = bare.call(%i[test_cock_1])
    expect(score(place, some, accepted).score).to eq(100.0)
    expect(score(place, some, r1).mistakes).to eq([:test_cock_not_flushed])
    none = score(place, bare.call([]), accepted)
    expect(none.mistakes).to eq([:test_cock_not_flushed])
    expect(none.lines.find { |line| line.id == :flush }.happened.values[:left_controls]).to eq([:test_cock_1])
  end

  it "tests a double check without a tube, hears air drawn in where a tube would sink, and fails nobody for it" do
    d1 = SHIPPED.procedures.fetch(:d1)
    bare = d1.adjusted({settings: {sight_tube: "never", bleed_off_tee: "none"}})
    expect(bare.steps.flat_map(&:acts).to_s).not_to match(/sight_tube|tee_needle/)
    place = bench(matrix, d1, :shutoff_valve_2_leaks)
    truth = Nurv::Expert::Truth.of(place, bare)
    expect([truth.diagnoses, truth.values]).to eq([["shutoff_valve_2:leaks_with_demand"], {}])
    expect(score(place, truth.run.log, bare).score).to eq(100.0)
    expect(score(bench(matrix, d1), log_of(bench(matrix, d1), d1), bare).mistakes).to include(:gauge_not_level)
  end

  it "takes steps of an authority's own, which are said to be done, and words and points" do
    tag = {id: "tag", title: "Hang the tag", points: 4, after: "reopen"}
    adopted =
      r1.adjusted(
        Nurv::Facts.of(
          label: "The weir's way",
          own_steps: [tag],
          words: {flush: {title: "Rinse the cocks", aid: "Four down, one up"}},
          points: {own_tag: 6}
        )
      )
    expect(adopted.title).to eq("R1 · The weir's way")
    expect(adopted.step(:flush)).to have_attributes(title: "Rinse the cocks", aid: "Four down, one up")
    expect(adopted.steps.map(&:id).each_cons(2)).to include(%i[reopen own_tag])
    place = bench(matrix, r1)
    log = log_of(place, adopted)
    expect(score(place, log, adopted).score).to eq(100.0)
    without = score(place, log_of(place, r1), adopted)
    expect(without.mistakes).to eq([:own_step_missed])
    expect(without.lines.find { |line| line.id == :own_tag }.points).to eq(6)
  end

  it "sees for itself whether caps went back on and stored values were cleared, where that is asked for" do
    shown = {caps_off: "identify", caps_on: nil, nothing_stored: "check_kit"}
    own = shown.map { |what, after| {id: what.to_s, title: what.to_s, shown_by: what.to_s, after: after}.compact }
    adopted = r1.adjusted(Nurv::Facts.of(own_steps: own))
    place = Nurv::Stations::Variant.new(SHIPPED.demo_stations.find { |one| one.id == :rp_vault }, 1)
    log = log_of(place, adopted)
    expect(log.of(:declare)).to eq([])
    expect(score(place, log, adopted).score).to eq(100.0)
    without = ->(&left_out) { score(place, Nurv::Bench::Log.new(log.reject(&left_out)), adopted) }
    lost = ->(graded) { graded.lines.select { |line| line.mistake == :own_step_missed }.map(&:id) }
    expect(lost.call(without.call { |act| act.kind == :cap && act[:to] == "on" })).to eq([:own_caps_on])
    expect(lost.call(without.call { |act| act.kind == :forget })).to eq([:own_nothing_stored])
    # Where there are no caps, and no memories, there is nothing to be done.
    bare = bench(matrix, r1)
    expect(score(bare, log_of(bare, r1), adopted).score).to eq(100.0)
  end

  it "has a proctor mark an authority's own step beside a real bench like any other" do
    adopted = r1.adjusted(Nurv::Facts.of(own_steps: [{id: "tag", title: "Hang the tag"}]))
    place = bench(matrix, r1)
    marked = ->(as) do
      act = Nurv::Bench::Action.new(kind: "mark", step: "own_tag", as: as, at_ms: 1000, id: "m")
      graded = score(place, Nurv::Bench::Log.new([act]), adopted)
      graded.lines.find { |line| line.id == :own_tag }
    end
    expect([marked.call("done").earned, marked.call("wrong").mistake]).to eq([3, :marked_wrong])
  end

  it "leaves steps out, moves them, and waits before a reading where it is told to" do
    d1 = SHIPPED.procedures.fetch(:d1)
    adopted =
      r1.adjusted(
        Nurv::Facts.of(
          left_out: %w[inspect],
          order: %w[check_kit identify],
          not_before_s: {check_valve_1_confirmed: 40}
        )
      )
    expect(adopted.step(:inspect)).to be_nil
    expect(adopted.steps.map(&:id).first(3)).to eq(%i[notify check_kit identify])
    place = bench(matrix, r1)
    expect(score(place, log_of(place, adopted), adopted).score).to eq(100.0)
    expect(score(place, log_of(place, r1), adopted).mistakes).to eq([:not_waited])
    at_once = d1.adjusted(Nurv::Facts.of(not_before_s: {check_valve_1: 0, check_valve_2: 0}))
    dc = bench(matrix, d1)
    expect(Nurv::Expert::Truth.of(dc, at_once).run.end_s).to be <= Nurv::Expert::Truth.of(dc, d1).run.end_s
  end

  it "asks for line pressure and shutoffs on the report where the procedure does, and for what is true" do
    adopted = r1.adjusted({settings: {report_line_pressure: "asked", report_shutoffs: "asked"}})
    place = bench(matrix, r1)
    log = log_of(place, adopted)
    expect(score(place, log, adopted).score).to eq(100.0)
    written = ->(field, value) do
      acts = log.map { |act| (act[:field] == field.to_s) ? act.to_h.merge(value: value) : act.to_h }
      graded = score(place, Nurv::Bench::Log.new(acts.map { |act| Nurv::Bench::Action.new(act) }), adopted)
      graded.lines.find { |line| line.section == :records && line.lost? }&.then { |line| [line.id, line.mistake] }
    end
    expect(written.call(:line_pressure, "64")).to be_nil
    expect(written.call(:line_pressure, "414 kPa")).to be_nil
    expect(written.call(:line_pressure, "90")).to eq(%i[line_pressure record_wrong])
    expect(written.call(:line_pressure, "")).to eq(%i[line_pressure record_incomplete])
    expect(written.call(:shutoffs_found, "both_closed")).to eq(%i[shutoffs record_wrong])
  end

  it "asks for type, owner, licence, dates and times where the procedure does, and takes them as people write them" do
    adopted = r1.adjusted({settings: {report_particulars: "asked"}})
    place = bench(matrix, r1)
    log = log_of(place, adopted)
    expect(score(place, log, adopted).score).to eq(100.0)
    order = place.station.work_order
    written = ->(field, value) do
      acts = log.map { |act| (act[:field] == field.to_s) ? act.to_h.merge(value: value) : act.to_h }
      graded = score(place, Nurv::Bench::Log.new(acts.map { |act| Nurv::Bench::Action.new(act) }), adopted)
      graded.lines.find { |line| line.id == :particulars }.then { |line| [line.mistake, line.happened.values[:fields]] }
    end
    expect(written.call(:type, "rp").first).to be_nil
    expect(written.call(:type, "double check")).to eq([:record_wrong, %i[type]])
    expect(written.call(:owner, order[:owner].upcase).first).to be_nil
    expect(written.call(:due_date, Date.iso8601(order[:due_date]).strftime("%-d %b %Y")).first).to be_nil
    expect(written.call(:time_in, "09.10").first).to be_nil
    expect(written.call(:time_in, "9:30")).to eq([:record_wrong, %i[time_in]])
    expect(written.call(:time_out, "9 pm")).to eq([:record_wrong, %i[time_out]])
    expect(written.call(:licence, "")).to eq([:record_incomplete, %i[licence]])
  end

  it "refuses what contradicts itself, and names the place" do
    refusal = ->(overlay) do
      r1.adjusted(Nurv::Facts.of(overlay))
      nil
    rescue Nurv::DataError => error
      SHIPPED.words.problems(error.problems).map { |place, what| "#{place} #{what}" }
    end
    expect(refusal.call(left_out: %w[connect])).to include(
      "step bleed cannot be done without “connect”, which is left out"
    )
    expect(refusal.call(order: %w[apparent close_bleeds connect])).to include(a_string_matching(/must come first/))
    expect(refusal.call(settings: {shutoff_valve_2_closed: "never"})).to include(a_string_matching(/is not known/))
    twice = Array.new(2) { {id: "tag", title: "Hang the tag"} }
    expect(refusal.call(own_steps: twice)).to eq(["step own_tag is there twice"])
    expect(refusal.call(settings: {nothing: "x"})).to eq(["settings nothing is no setting of this procedure"])
  end
end
