# frozen_string_literal: true

require "support/fingers"

RSpec.describe "The bench under a finger", :web, :browser, clock: :set do
  let(:instructor) { make_instructor }
  let(:trainee) { make_trainee }

  # @param done [Array<Nurv::Bench::Action>] done there already
  def bench_of(station, done: [], **changes)
    attempt = begin_attempt(instructor, trainee, station: station, mode: "practice", **changes)
    keeper.of(attempt).do_again(attempt, done)
    stores.attempts.change_clock(attempt.id) { |clock| clock.skip(done.empty? ? 0 : done.last.at_ms) }
    sign_in("teo", "1234")
    visit "/attempts/#{attempt.id}/bench"
    expect(page).to have_css("#drawing")
    touch_screen
    attempt
  end

  # What is done before the first hand is laid on, by hand, and on paper after the last.
  def parts(log)
    acts = log.to_a
    first = acts.index { |act| !act.paper? }
    last = acts.rindex { |act| act.kind != :fill && act.kind != :submit }
    [acts[0...first], acts[first..last], acts[(last + 1)..]]
  end

  def acts_of(attempt) = stores.attempts.log(attempt).to_a

  [
    [:bottle_rinser, :r1, "to_the_right"],
    [:dc_healthy, :d1, "upwards"],
    [:pvb_low, :p1, "to_the_right"]
  ].each do |station, procedure, way|
    it "does a whole #{procedure.to_s.upcase} by dragging alone, to full marks, water flowing #{way.tr("_", " ")}" do
      data = SHIPPED.demo_stations.find { |one| one.id == station }.data.merge(direction: way)
      variant = Nurv::Stations::Variant.new(Nurv::Stations::Station.new(Nurv::Facts.of(data), SHIPPED), 1)
      before, by_hand, after = parts(Nurv::Expert::Truth.of(variant, variant.station.procedures.first).run.log)
      attempt = bench_of(station, done: before, direction: way)
      carry_out_by_finger(by_hand, from_ms: before.last.at_ms)
      now_ms = Clock.wall_ms
      attempt = stores.attempts.find(attempt.id)
      at_ms = attempt.clock_ms(now_ms)
      rest = after.map { |act| Nurv::Bench::Action.new({**act.to_h, at_ms: at_ms}) }
      keeper.of(attempt).do_again(attempt, rest)
      grade = stores.grades.computed(stores.attempts.find(attempt.id))
      expect([grade.score, grade.mistakes]).to eq([100.0, []])
      turned = acts_of(attempt).select { |act| act.kind == :turn }
      expect(turned.map { |act| act[:over] }).to all(be_a(Integer))
    end
  end

  def bleeding
    attempt = bench_of(:bottle_rinser)
    turn_by_finger("low_bleed", 1.0, 900)
    pass 2
    attempt
  end

  def pace(attempt)
    replay = Nurv::Bench::Replay.new(attempt.variant, stores.attempts.log(attempt))
    chronicle = Nurv::Grading::Chronicle.new(replay, SHIPPED.procedures[:r1])
    chronicle.fastest(:low_bleed, -1, 0...chronicle.size).last
  end

  it "has a bleed slammed by a quick hand and closed gently by a slow one" do
    slow = Nurv::Grading::Requirements::SLOW_TURNS_PER_S
    attempt = bleeding
    turn_by_finger("low_bleed", 0.0, 1_500)
    expect(pace(attempt)).to be < slow
    turn_by_finger("low_bleed", 1.0, 900)
    pass 2
    turn_by_finger("low_bleed", 0.0, 200)
    expect(pace(attempt)).to be > slow
  end

  it "puts a hose on the wrong cock and pulls it off again, and swings it back from where nothing is" do
    attempt = bench_of(:bottle_rinser)
    acknowledged { carry_hose("high", seat("test_cock_4")) }
    acknowledged { carry_hose("high", place(600, 560)) }
    acknowledged { carry_hose("high", seat("test_cock_2")) }
    before = seq
    carry_hose("low", place(420, 30))
    carry_hose("low", seat("test_cock_2"))
    expect(page).to have_css("#message", text: /TC2/)
    expect(seq).to eq(before)
    done = acts_of(attempt).map { |act| [act.kind, act[:hose], act[:to]] }
    on_and_off = [[:connect, "high", "test_cock_4"], [:disconnect, "high", nil], [:connect, "high", "test_cock_2"]]
    expect(done).to eq(on_and_off)
  end

  # A finger at the low bleed that has begun to turn it.
  def turning(degrees)
    attempt = bench_of(:bottle_rinser)
    node = control("low_bleed")
    touch("touchStart", *around(node, 180.0))
    touch("touchMove", *around(node, degrees))
    seen
    acknowledged { go_by(300) }
    [attempt, node]
  end

  def line(there)
    speeds = {latency: 0, downloadThroughput: -1, uploadThroughput: -1}
    command("Network.emulateNetworkConditions", offline: !there, **speeds)
  end

  # Where the server has it, and where it is drawn.
  def knob(attempt, valve)
    drawn = find("#c_#{valve} [data-mark]")["transform"][/rotate\(([-\d.]+)/, 1].to_f
    [keeper.of(stores.attempts.find(attempt.id)).look { |span| span.state.rest_position(valve.to_sym) }, -drawn / 360.0]
  end

  it "loses nothing and doubles nothing when the line is gone for a while under the hand" do
    attempt, node = turning(150.0)
    line(false)
    [110.0, 70.0, 30.0].each do |degrees|
      touch("touchMove", *around(node, degrees))
      seen
      go_by(300)
    end
    expect(page).to have_css("#bench_state", text: "No connection")
    line(true)
    acknowledged { go_by(300) }
    touch("touchEnd")
    expect(page).to have_css("#c_low_bleed[data-position='0.417']")
    expect(knob(attempt, "low_bleed")).to match([be_within(0.002).of(0.417), be_within(0.002).of(0.417)])
    expect(acts_of(attempt).size).to eq(2)
  end

  it "draws the knob where the water has it, after another window, and after a reload in the middle of a turn" do
    attempt, node = turning(120.0)
    now = stores.attempts.find(attempt.id)
    other = {kind: "turn", valve: "low_bleed", to: 1.0, speed: "normal"}
    keeper.of(now).act(now, other, id: "other-1", known_seq: 1, seen_ms: 10_000, wall_ms: Clock.wall_ms)
    touch("touchMove", *around(node, 90.0))
    seen
    go_by(300)
    expect(page).to have_css("#message", text: "moved on")
    touch("touchEnd")
    page.document.synchronize(15) do
      places = knob(attempt, "low_bleed")
      raise Capybara::ElementNotFound, places.inspect if (places[0] - places[1]).abs > 0.002
    end
    touch("touchStart", *around(node, 180.0))
    touch("touchMove", *around(node, 160.0))
    visit "/attempts/#{attempt.id}/bench"
    places = knob(attempt, "low_bleed")
    expect(places[1]).to be_within(0.002).of(places[0])
  end

  it "turns by the wheel, and by a key held down as long as it is held" do
    attempt = bench_of(:bottle_rinser)
    node = control("low_bleed")
    notch = {type: "mouseWheel", deltaX: 0, deltaY: -40, **node.slice("x", "y").transform_keys(&:to_sym)}
    acknowledged { 3.times { command("Input.dispatchMouseEvent", **notch) } }
    expect(knob(attempt, "low_bleed")).to all(be_within(0.002).of(45.0 / 360.0))
    hold_key("ArrowLeft", 300)
    expect(page).to have_css("#c_low_bleed[data-position='0.275']")
    expect(knob(attempt, "low_bleed")).to all(be_within(0.002).of(0.125 + 0.3 * 180.0 / 360.0))
    hold_key("ArrowRight", 1_000)
    # A stop is a stop.
    expect(page).to have_css("#c_low_bleed[data-position='0.0']")
  end

  it "takes a press that bounces for one act, and one that comes later for another" do
    attempt = bench_of(:bottle_rinser)
    turn_round = -> { page.execute_script(<<~JS) }
      [...document.querySelectorAll("#hands [data-hand='hose_high'] button")]
        .find((node) => node.textContent.trim() === "Swap ends")
        .click();
    JS
    take("hose_high")
    acknowledged { turn_round.call }
    # It is drawn anew by now, and would be pressed back.
    turn_round.call
    go_by(300)
    operate("test_cock_1", "Open")
    take("hose_high")
    acknowledged { turn_round.call }
    expect(acts_of(attempt).map(&:kind)).to eq(%i[swap_ends turn swap_ends])
  end

  it "tells who hears the bench what the needle shows, and nothing of it while eyes are elsewhere" do
    station = SHIPPED.demo_stations.find { |one| one.id == :bottle_rinser }
    log = Nurv::Expert::Truth.of(Nurv::Stations::Variant.new(station, 1), station.procedures.first).run.log.to_a
    reading = log.index { |act| act[:item] == "check_valve_1_apparent" }
    bench_of(:bottle_rinser, done: log.first(reading))
    words = ->(said) { expect(page).to have_css("#needle_words", text: said, visible: :all) }
    pass 1
    words.call(/\A\d\.\d psid\z/)
    expect(find("#needle_words", visible: :all).text(:all)).to start_with(format("%.1f", needle_shown))
    acknowledged { find("#eyes_relief_port").click }
    pass 1
    words.call(/\AThe gauge is not looked at\.\z/)
    acknowledged { find("#eyes_gauge").click }
    pass 1
    words.call(/\A\d\.\d psid\z/)
    # To the peg, and there it stays.
    turn_by_finger("low_bleed", 1.0, 300)
    pass 4
    words.call(/\A1\d\.\d psid\z/)
    expect(find("#needle_words", visible: :all).text(:all)).to start_with(format("%.1f", needle_shown))
  end

  %i[bottle_rinser pvb_low fire_riser rp_vault].each do |station|
    it "has nothing on the drawing of #{station} that a finger would miss on a small tablet" do
      page.current_window.resize_to(1024, 768)
      bench_of(station)
      sizes = page.evaluate_script(<<~JS)
        [...document.querySelectorAll("#drawing .hit .hit-area, #drawing [data-lift] .hit-area")].map((area) => {
          const { width, height } = area.getBoundingClientRect();
          return [area.parentNode.id || "rule", Math.round(Math.min(width, height))];
        })
      JS
      expect(sizes.size).to be > 10
      expect(sizes.reject { |_, least| least >= 44 }).to eq([])
    ensure
      page.current_window.resize_to(1280, 800)
    end
  end

  it "holds what a digital gauge shows by a second finger, while the first is at a bleed" do
    attempt = bench_of(:dc_masked)
    touch_screen
    bleed = control("high_control")
    held = middle_of("#press_capture .hit-area")
    points = ->(*fingers) { fingers.each_with_index.map { |(x, y), id| {x: x, y: y, id: id} } }
    both = ->(type, *fingers) { command("Input.dispatchTouchEvent", type: type, touchPoints: points.call(*fingers)) }
    both.call("touchStart", around(bleed, 180.0))
    [160.0, 140.0].each { |degrees| both.call("touchMove", around(bleed, degrees)) }
    seen
    acknowledged { go_by(300) }
    acknowledged { both.call("touchStart", around(bleed, 140.0), held) }
    expect(page).to have_css("#press_capture .face-key-down")
    [120.0, 100.0].each { |degrees| both.call("touchMove", around(bleed, degrees), held) }
    seen
    acknowledged { go_by(300) }
    touch("touchEnd")
    expect(stores.attempts.log(attempt).map(&:kind)).to start_with(:turn, :capture, :turn)
  end

  it "draws what is level with a gauge that is lifted, to where the outlets are" do
    %i[bottle_rinser fire_riser].each do |station|
      bench_of(station)
      box = ->(css) do
        rect = "document.querySelector('#{css}').getBoundingClientRect()"
        page.evaluate_script("[#{rect}.left, #{rect}.right]")
      end
      page.execute_script("document.querySelector('[data-lift]').classList.add('is-lifted')")
      from, to = box.call(".rule-sight")
      expect(box.call("#c_test_cock_2").sum / 2.0).to be_between(from, to)
    end
  end

  it "lists the keys, and lets a message go by Escape" do
    bench_of(:bottle_rinser)
    press_key("keyDown", "?")
    expect(page).to have_css("#keys kbd", text: "h")
    press_key("keyDown", "Escape")
    expect(page).to have_no_css("#keys")
    carry_hose("low", seat("test_cock_2"))
    carry_hose("high", seat("test_cock_2"))
    expect(page).to have_css("#message", text: /TC2/)
    press_key("keyDown", "Escape")
    expect(page).to have_no_css("#message", text: /TC2/)
  end

  def hold_key(key, milliseconds)
    press_key("keyDown", key)
    seen
    go_by(milliseconds)
    seen
    press_key("keyUp", key)
  end

  def press_key(type, key)
    text = {text: key} if key.size == 1
    command("Input.dispatchKeyEvent", type: type, key: key, **text.to_h)
  end
end
