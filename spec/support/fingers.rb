# frozen_string_literal: true

require_relative "browser"

# A finger at the bench of a touch screen: turns, carries and lifts, and presses only what is paper.
module Fingers
  # A ramp of the page's, or a little more.
  RAMP_MS = 300
  # So slow a hand moves less than a finger's width at once.
  MOST_RAMPS = 7
  MOVE_DEGREES = 40.0
  RADIUS_PX = 22
  # A hose is held above the finger.
  ABOVE_PX = 34

  def touch_screen = command("Emulation.setTouchEmulationEnabled", enabled: true, maxTouchPoints: 2)

  # Carries a log out by fingers alone, each act at its own moment or as soon as the hand is free.
  #
  # @param from_ms [Integer] simulated, where the bench stands
  def carry_out_by_finger(acts, from_ms: 0)
    began_ms = Clock.wall_ms - from_ms
    acts.each do |action|
      let_go_by(action.at_ms - (Clock.wall_ms - began_ms), looking: false)
      at_the_bench unless action.paper?
      case action.kind
      when :turn then turn_by_finger(action[:valve], action[:to], took_ms(action))
      when :connect then acknowledged { carry_hose(action[:hose], seat(action[:to])) }
      when :disconnect then acknowledged { carry_hose(action[:hose], place(700, 600)) }
      when :fit then acknowledged { carry_fitting(action[:fitting], seat(action[:to])) }
      when :unfit then acknowledged { carry_off(action[:fitting], place(700, 600)) }
      when :level then acknowledged { lift_to(action[:to]) }
      else by_hand(action)
      end
    rescue RSpec::Expectations::ExpectationNotMetError => error
      raise error.class, "#{error.message} (#{action.to_json})"
    end
  end

  # @param to [Float] turns, or 0..1
  # @param took_ms [Integer] that the hand takes for it
  def turn_by_finger(valve, to, took_ms)
    node = control(valve)
    return if (to - node["position"]).abs < 0.0005

    degrees = (to - node["position"]) / node["per"]
    steps = (took_ms / RAMP_MS.to_f).round.clamp(1, MOST_RAMPS)
    # By the left end of a lever, where no hose hangs.
    angle = 180.0
    touch("touchStart", *around(node, angle))
    steps.times do
      (degrees.abs / steps / MOVE_DEGREES).ceil.then do |moves|
        moves.times { touch("touchMove", *around(node, angle += degrees / steps / moves)) }
      end
      seen
      acknowledged { go_by(took_ms / steps) }
    end
    touch("touchEnd")
    page.document.synchronize(15) do
      stands = control(valve)["position"]
      raise Capybara::ElementNotFound, "#{valve} at #{stands}, not #{to}" if (stands - to).abs > 0.002
    end
  end

  def carry_hose(hose, to) = carry(middle_of("#c_hose_#{hose} .hose-end"), to)

  def carry_fitting(fitting, to)
    take("box")
    carry(middle_of(".carry[data-fitting=#{fitting}]"), to)
  end

  def carry_off(fitting, to) = carry(middle_of("svg [data-fitting=#{fitting}] .hit-area"), to)

  def lift_to(inches)
    from = middle_of("[data-lift] .rule-mark")
    drawn = page.evaluate_script("({...document.querySelector('[data-lift]').dataset})")
    per_inch, zero_y = drawn.values_at("perInch", "zeroY").map(&:to_f)
    goal = place(8, zero_y - inches * per_inch)
    carry(from, [goal[0], goal[1]])
  end

  def touch(type, x = nil, y = nil)
    points = x ? [{x: x, y: y}] : []
    command("Input.dispatchTouchEvent", type: type, touchPoints: points)
  end

  # @return [Array(Float, Float)] of the window, for a place of the drawing
  def place(x, y)
    page.evaluate_script(<<~JS, x, y)
      ((x, y) => {
        const point = new DOMPoint(x, y).matrixTransform(document.querySelector("svg.scene").getScreenCTM());
        return [point.x, point.y];
      })(arguments[0], arguments[1])
    JS
  end

  def seat(cock)
    data = page.evaluate_script("({...document.querySelector('[data-seat=#{cock}]').dataset})")
    place(data["seatX"].to_f, data["seatY"].to_f)
  end

  # Whoever looks around sees the place, and not the bench.
  def at_the_bench
    click_button "Notebook", exact: true if page.has_css?("#site:not([hidden])", wait: 0)
    click_button "Close the report" if page.has_css?("#report:not([hidden]) #close_report", wait: 0)
  end

  def command(name, **fields) = page.driver.browser.page.command(name, **fields)

  # A page hears of a finger once a frame.
  def seen = page.evaluate_async_script("requestAnimationFrame(() => requestAnimationFrame(arguments[0]))")

  # Time of the server and of the page, without a question.
  def go_by(milliseconds)
    Clock.source.let_go_by(milliseconds)
    page.execute_script("window.__now += arguments[0]", milliseconds)
  end

  def took_ms(action)
    sort = Nurv::Bench::Hands::TRAVEL_S.find { |kind, _| action[:valve].to_s.start_with?(kind.to_s) }
    travel = sort ? sort.last : Nurv::Bench::Hands::TRAVEL_S[:needle_valve]
    (travel * Nurv::Bench::Action::SPEEDS.fetch((action[:speed] || "normal").to_sym) * 1000).round
  end

  def control(valve)
    page.evaluate_script(<<~JS, valve)
      ((valve) => {
        const node = document.getElementById(`c_${valve}`);
        const { x, y, position, perDegree } = node.dataset;
        const hub = new DOMPoint(Number(x), Number(y)).matrixTransform(node.getScreenCTM());
        return { x: hub.x, y: hub.y, position: Number(position), per: Number(perDegree) };
      })(arguments[0])
    JS
  end

  def around(node, degrees)
    radians = degrees * Math::PI / 180.0
    [node["x"] + RADIUS_PX * Math.cos(radians), node["y"] + RADIUS_PX * Math.sin(radians)]
  end

  def middle_of(css)
    page.evaluate_script(<<~JS, css)
      ((css) => {
        const box = document.querySelector(css).getBoundingClientRect();
        return [box.x + box.width / 2, box.y + box.height / 2];
      })(arguments[0])
    JS
  end

  def carry(from, to)
    touch("touchStart", *from)
    (1..4).each do |step|
      touch("touchMove", from[0] + (to[0] - from[0]) * step / 4.0, from[1] + (to[1] + ABOVE_PX - from[1]) * step / 4.0)
    end
    touch("touchEnd")
  end
end

RSpec.configure { |config| config.include Fingers, :browser }
