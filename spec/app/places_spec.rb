# frozen_string_literal: true

require "support/web"
require "nokogiri"

# Where things lie in a hand: a finger learns a place, and the place keeps its meaning.
RSpec.describe "What is in hand", :web do
  include Requests

  let!(:instructor) { make_instructor }
  let!(:trainee) { make_trainee }

  def screen_after(attempt, *acts)
    tester = Tester.new(attempt.variant)
    acts.each { |kind, fields| tester.act(kind, **fields).wait(1) }
    Web::BenchScreen.new(
      attempt,
      tester.span,
      now_ms: (tester.time_s * 1000).round,
      seq: acts.size,
      until_ms: (tester.time_s * 1000).round
    )
  end

  def post_act(attempt, fields, seq)
    post "/attempts/#{attempt.id}/actions",
      {**fields, action_id: "a#{seq}", seq: seq, seen_ms: 0},
      "HTTP_X_CSRF_TOKEN" => @token
  end

  def turns(valve, *places) = places.map { |to| [:turn, {valve: valve.to_s, to: to, speed: "normal"}] }

  def places(buttons) = buttons.to_h { |button| [button.slot, button.label] }

  %i[bottle_rinser dc_hold pvb_low].each do |station|
    it "has every act of a control in a place of its own, wherever the control stands, at #{station}" do
      attempt = begin_attempt(instructor, trainee, station: station)
      start = screen_after(attempt)
      start.controls.each do |control|
        limit = control.limit
        [[0.4], [0.4, limit], [0.4, limit, 0.0]].each do |way|
          way = way.drop_while { |to| (to - control.position).abs < 0.001 }
          next if way.empty?

          screen = screen_after(attempt, *turns(control.id, *way))
          there = screen.controls.find { |one| one.id == control.id }
          expect(places(screen.buttons(there))).to eq(places(start.buttons(control)))
        end
        slots = start.buttons(control).map(&:slot)
        expect(slots).to eq(slots.uniq)
      end
    end
  end

  it "names nothing at a tester's own bench before its tag is hung, and by the tags from then on" do
    attempt = begin_attempt(instructor, trainee, station: :bottle_rinser, direction: "to_the_left", tags: "to_hang")
    sign_in("teo", "1234")
    drawing = -> { Nokogiri::HTML(last_response.body).at_css("#drawing, #live") }
    get "/attempts/#{attempt.id}/bench"
    said = ->(node) { node.text + node.css("[aria-label]").map { |part| part["aria-label"] }.join(" ") }
    expect(said.call(drawing.call)).to include("Far left cock, closed", "Right shutoff, open", "check")
    expect(said.call(drawing.call)).not_to match(/TC\d|SOV\d|CV\d|flow/)
    hands = Nokogiri::HTML(last_response.body).at_css("#hands")
    expect(hands.css("h2, [data-hand^=hose] button").text).not_to match(/TC\d|SOV\d/)

    post_act(attempt, {kind: "look", at: "arrow"}, 0)
    expect(last_response.body).to include("to the left").and include("flow")
    expect(last_response.body).not_to match(/from SOV1/)
    post_act(attempt, {kind: "tag", at: "test_cock_1", as: "test_cock_4"}, 1)
    expect(said.call(drawing.call)).to include("TC4, closed", "Far left cock, closed")
    # What is refused is told by those names as well.
    post_act(attempt, {kind: "connect", hose: "high", to: "test_cock_1"}, 2)
    post_act(attempt, {kind: "connect", hose: "low", to: "test_cock_1"}, 3)
    expect(last_response.body).to include("TC4 already has the high hose on it")
    # Another bench of the same station, drawn otherwise, is not drawn from this one.
    other = %w[to_hang hung].map do |tags|
      screen = Web::BenchScreen.live(begin_attempt(instructor, trainee, tags: tags), Clock.wall_ms, KEEPER, eyes: true)
      [screen.tagged_by_hand?, screen.looks.drop(1)]
    end
    expect(other.map(&:first)).to eq([true, false])
    expect(other.map(&:last).uniq.size).to eq(2)
    # Whoever watches has the right ones.
    room = Web::BenchScreen.live(stores.attempts.find(attempt.id), Clock.wall_ms, KEEPER)
    expect(room.test_cocks.map(&:label)).to eq(%w[TC1 TC2 TC3 TC4])
  end

  it "has all parts along the flow the other way round where it runs to the left, and says so to who looks" do
    usual, other =
      %w[to_the_right to_the_left].map do |way|
        screen_after(begin_attempt(instructor, trainee, station: :bottle_rinser, direction: way))
      end
    parts = %i[shutoff_valve_1 check_valve_1 relief_valve check_valve_2 shutoff_valve_2 test_cock_1 test_cock_4]
    along = ->(screen) { parts.map { |part| screen.place(part)[:x] } }
    expect(along.call(usual).zip(along.call(other)).map(&:sum).uniq).to eq([Web::BenchScreen::SHEET_WIDTH])
    arrow = ->(screen) { screen.things.find { |thing| thing.id == :arrow }.text }
    expect([arrow.call(usual), arrow.call(other)]).to match([/to the right/, /to the left/])
    # The kit stands where it stood.
    expect(other.kit_valves.map(&:x)).to eq(usual.kit_valves.map(&:x))
    # Drawn by the seed where a station leaves it open.
    open = make_station(instructor, :bottle_rinser, direction: "either")
    station = Nurv::Stations::Station.parse(open.body, SHIPPED)
    drawn = (1..12).map { |seed| Nurv::Stations::Variant.new(station, seed).station.to_the_left? }
    expect(drawn.tally.values).to all(be >= 2)
    expect(drawn).to eq((1..12).map { |seed| Nurv::Stations::Variant.new(station, seed).station.to_the_left? })
  end

  it "lifts the gauge by inches, each in its place, and names no height that it could be held at" do
    %i[bottle_rinser dc_hold pvb_low].each do |station|
      attempt = begin_attempt(instructor, trainee, station: station, mode: "exam")
      start = screen_after(attempt)
      lifted = screen_after(attempt, [:level, {to: 9.5}])
      expect(places(lifted.gauge_buttons)).to eq(places(start.gauge_buttons))
      expect(lifted.gauge_buttons.find { |button| button.label == "−½ in" }.fields).to eq(kind: "level", to: 9.0)
      names = attempt.station.assembly.levels.values.map(&:label)
      expect(start.gauge_buttons.map(&:label).join(" ")).not_to match(Regexp.union(names))
      expect(start.rule.filter_map(&:last)).to all(match(/\A-?\d+\z/))
      # What is measured of an assembly is there for who looks at it.
      text = start.things.find { |thing| thing.id == :test_cocks }.text
      told = attempt.station.assembly.told_levels.first
      expect(text).to include("#{told.label} #{told.elevation_in} in")
    end
  end

  %i[bottle_rinser dc_hold pvb_low fire_riser].each do |station|
    it "draws heights by the rule beside them at #{station}: what is level with the gauge looks level" do
      attempt = begin_attempt(instructor, trainee, station: station)
      sign_in("teo", "1234")
      get "/attempts/#{attempt.id}/bench"
      page = Nokogiri::HTML(last_response.body)
      assembly = attempt.variant.station.assembly
      assembly.test_cocks.each_value do |cock|
        held = screen_after(attempt, [:level, {to: cock.elevation_in}])
        seat = page.at_css("[data-seat=#{cock.id}]")["data-seat-y"].to_f
        expect(held.gauge_y).to be_within(2).of(seat)
      end
      next unless assembly.levels.key?(:air_inlet)

      held = screen_after(attempt, [:level, {to: assembly.levels[:air_inlet].elevation_in}])
      expect(held.gauge_y).to eq(Web::BenchPose::SEAT_Y - held.air_inlet_rise)
    end
  end

  it "draws a tube as long as it is, by the same rule" do
    attempt = begin_attempt(instructor, trainee, station: :dc_hold)
    screen = screen_after(attempt, [:fit, {fitting: "sight_tube", to: "test_cock_3"}])
    brim = screen.outlets.find { |outlet| outlet.id == :sight_tube_brim }
    expect(brim.y).to be_within(6).of(screen.rule_y(attempt.station.assembly.tube_top_in(:test_cock_3)))
  end

  it "offers nothing that the bench refuses, and refuses in the page only what the bench does" do
    attempt = begin_attempt(instructor, trainee, station: :bottle_rinser)
    done = [
      *turns(:low_bleed, 0.3),
      [:connect, {hose: "high", to: "test_cock_2"}],
      [:fit, {fitting: "sight_tube", to: "test_cock_3"}],
      *turns(:test_cock_2, 0.5)
    ]
    screen = screen_after(attempt, *done)
    tester = Tester.new(attempt.variant)
    done.each { |kind, fields| tester.act(kind, **fields).wait(1) }
    screen.controls.flat_map { |control| screen.buttons(control) }.each do |button|
      fields = button.fields.transform_values { |value| value.is_a?(Symbol) ? value.to_s : value }
      act = Nurv::Bench::Action.new(at_ms: (tester.time_s * 1000).round, id: "x", **fields)
      can = begin
        tester.span.after(act) && true
      rescue Nurv::RefusedAction
        false
      end
      expect([button.label, button.fields[:valve], !button.off]).to eq([button.label, button.fields[:valve], can])
    end
  end
end
