# frozen_string_literal: true

module Web
  # A bench as it is drawn: places of parts, words for their positions, what can be done to each, what there is to see.
  class BenchScreen
    WORDS = Nurv::Bench::Words
    PIPE_Y = 190
    COCK_TOP_Y = 112
    KIT_TOP_Y = 345
    HORIZON_MS = 2_000
    KEYS = {
      shutoff_valve_1: "i", shutoff_valve_2: "o", test_cock_1: "1", test_cock_2: "2", test_cock_3: "3", test_cock_4: "4",
      high_bleed: "h", low_bleed: "l", high_control: "H", low_control: "L", bypass_control: "b", vent_control: "v", valve_a: "a",
      valve_b: "b", tee_needle: "t", box: "f", canopy: "c", air_inlet: "r",
      hose_high: "x", hose_low: "y", hose_bypass: "z", hose_vent: "z", gauge: "g", relief_valve: "r"
    }.freeze

    # Marks and numerals of the analogue face never change, so they are drawn once.
    DIAL = begin
      marks = (0..75).map do |tick|
        major = (tick % 5).zero?
        %(<path class="#{major ? "tick" : "tick-minor"}" d="M0 #{major ? -84 : -92} V-100" transform="rotate(#{(tick * 3.6 - 135).round(1)})"/>)
      end
      numerals = (0..15).map do |mark|
        angle = (mark * 18 - 135) * Math::PI / 180
        %(<text class="numeral" x="#{(Math.sin(angle) * 70).round(1)}" y="#{(-Math.cos(angle) * 70 + 5).round(1)}">#{mark}</text>)
      end
      (marks + numerals).join
    end.freeze

    Control = Struct.new(:id, :label, :x, :y, :position, :words, :kind, keyword_init: true) do
      def open? = position.positive?

      def angle = (kind == :needle_valve) ? (position * 144).round : ((1.0 - position) * 90).round

      def name = "#{label}, #{words}"

      def key = KEYS[id]
    end
    HoseLine = Struct.new(:id, :label, :name, :path, :tag_x, :tag_y, :place, :end_x, :end_y, keyword_init: true) do
      def key = KEYS[:"hose_#{id}"]
    end
    Outlet = Struct.new(:id, :x, :y, :way, :label, :word, keyword_init: true)
    Button = Struct.new(:label, :fields, :strong, keyword_init: true)
    Thing = Struct.new(:id, :label, :text, :seen, :noted, keyword_init: true)

    # The bench of a running attempt, with its next two seconds.
    def self.live(attempt, wall_ms)
      bench = Store::LiveBench.of(attempt)
      now_ms = attempt.clock_ms(wall_ms)
      bench.look { |span| new(attempt, span, now_ms: now_ms, seq: bench.seq, until_ms: attempt.paused? ? now_ms : now_ms + HORIZON_MS, left_ms: attempt.left_ms(wall_ms)) }
    end

    attr_reader :attempt, :seq, :now_ms, :frames, :left_ms

    def initialize(attempt, span, now_ms:, seq:, until_ms:, frozen: false, left_ms: nil)
      @attempt = attempt
      @state = span.state
      @now_ms = [now_ms, (span.from_s * 1000).round].max
      @seq = seq
      @frozen = frozen
      @left_ms = left_ms
      @frames = Nurv::Bench::Frames.new(span, @now_ms / 1000.0, until_ms / 1000.0, inside: attempt.mode == "practice").to_h
    end

    def frozen_scene? = @frozen

    def station = attempt.station

    def assembly = station.assembly

    def kit = station.kit

    attr_reader :state

    def frames_json = JSON.generate(frames.merge(seq: seq, now_ms: now_ms, left_ms: left_ms, paused: (attempt.respond_to?(:paused?) && attempt.paused?) || nil).compact)

    def clock = Nurv::Units.clock(now_ms / 1000.0)

    # --- picture

    def place(part) = assembly.drawing.fetch(part)

    def shutoff_valves = @shutoff_valves ||= assembly.shutoff_valves.map { |id| control(id, :shutoff_valve, place(id)[:x], PIPE_Y) }

    def test_cocks = @test_cocks ||= assembly.test_cocks.keys.map { |id| control(id, :test_cock, place(id)[:x], 150) }

    def kit_valves
      @kit_valves ||= kit.valves.values.map do |valve|
        spot = kit.drawing[:valves].fetch(valve.id)
        control(valve.id, :needle_valve, spot[:x], spot[:y])
      end
    end

    def controls = @controls ||= shutoff_valves + test_cocks + kit_valves + tee_needles + taps

    # Where a spout drips below the knob, its name stands above it.
    def name_above?(valve) = kit.drawing[:valves][valve.id].key?(:spout)

    def buckets = hoses.select { |hose| state.hose_ends[hose.id] == :free }.map { |hose| [hose.end_x, hose.end_y + 30] }

    def checks = %i[check_valve_1 check_valve_2].select { |id| assembly.components.include?(id) }.map { |id| [WORDS::COMPONENTS[id], place(id)[:x]] }

    # The tee's needle, beside the test cock that the tee is on.
    def tee_needles
      cock = state.fittings[:bleed_off_tee] or return []

      [control(:tee_needle, :needle_valve, cock_x(cock) - 36, 86)]
    end

    def taps = [control(:downstream_tap, :tap, place(:downstream_tap)[:x], PIPE_Y)]

    def tap = taps.first

    def air_inlet_x = assembly.components.include?(:air_inlet) && place(:air_inlet)[:x]

    def poppet = frames[:poppet]&.first&.last.to_f

    # What is to be watched at this assembly besides the gauge.
    def watched_thing = air_inlet_x ? [:air_inlet, "air inlet"] : (relief_x && [:relief_port, "relief port"])

    def watching_words = (state.watching == :gauge) ? "gauge" : watched_thing.last

    def on_cock(fitting) = state.fittings[fitting] && cock_x(state.fittings[fitting])

    # Water in the sight tube, inches above the pipe's centre line.
    def tube_level_in = frames[:tube]&.first&.last.to_f

    def line_gauge_psi = frames[:line_gauge]&.first&.last.to_f

    # Heights that a gauge can be held level with, and where it is held, down a small rule.
    def rule = assembly.levels.values.map { |level| [rule_y(level.elevation_in), level.label] }

    def gauge_y = rule_y(state.gauge_in.clamp(-8, 16))

    def rule_y(inches) = (404 - inches * 6).round

    def relief_x = assembly.components.include?(:relief_valve) && place(:relief_valve)[:x]

    def hoses
      @hoses ||= kit.hoses.values.map do |hose|
        far = state.hose_ends.fetch(hose.id)
        near = state.hose_ends[:"#{hose.id}_near"]
        path, finish = (near && near != :kit) ? joined(near, far, hose) : from_port(hose, far)
        HoseLine.new(id: hose.id, label: hose.label, name: hose.name, path: path, place: hose_place(far, near),
          tag_x: finish[2], tag_y: finish[3], end_x: finish[0], end_y: finish[1])
      end
    end

    # Where the pressures of the chambers are written in the view of the inside.
    def inside_spots
      drawing = assembly.drawing
      between = ->(one, other) { (drawing[one][:x] + drawing[other][:x]) / 2 }
      checks = assembly.components.include?(:check_valve_2)
      list = [[:supply, 44, 212, "psi"], [:inlet, between.call(:shutoff_valve_1, :check_valve_1), 212, "psi"]]
      list += checks ? [[:zone, between.call(:check_valve_1, :check_valve_2), 178, "psi"], [:outlet, between.call(:check_valve_2, :shutoff_valve_2), 212, "psi"]] : [[:body, between.call(:check_valve_1, :shutoff_valve_2), 212, "psi"]]
      list << [:downstream, drawing[:downstream_tap][:x] - 40, 178, "psi"]
      ports = kit.drawing[:ports]
      list += [[:high, ports[:high][:x] - 8, 508, "H"]] if ports[:high]
      list += [[:low, ports[:low][:x] + 10, 508, "L"]] if ports[:low]
      list.select { |node, *| frames[:inside].key?(node) }
    end

    def outlets
      spots = @outlets ? nil : outlet_spots
      @outlets ||= frames[:outlets].filter_map do |id, changes|
        spot = spots[id] or next
        Outlet.new(id: id, x: spot[0], y: spot[1], way: spot[2], label: spot[3], word: changes.first[1])
      end
    end

    # What runs, in words, for those who cannot see the picture.
    def running = outlets.reject { |outlet| outlet.word == "dry" }.map { |outlet| "#{outlet.label}: #{outlet.word}" }

    def needle_psid = frames[:needle].first[1]

    def needle_angle = (needle_psid * 18.0 - 135.0).round(2)

    def digital? = station.kit_state[:face] == "digital"

    def relief_word = outlets.find { |outlet| outlet.id == :relief_valve }&.word || "dry"

    # --- hands

    # @return [Array<Button>] what can be done to this control from where it stands
    def buttons(control)
      settings = case control.kind
      when :needle_valve then needle_buttons(control)
      when :shutoff_valve
        [["Open slowly", 1.0, "slow"], ["Open", 1.0, "normal"], ["Close slowly", 0.0, "slow"], ["Close", 0.0, "normal"]]
      when :tap then [["Open", 1.0, "normal"], ["A little", 0.02, "normal"], ["Close", 0.0, "normal"]]
      else [["Open", 1.0, "normal"], ["Half", 0.5, "normal"], ["Crack", 0.1, "normal"], ["Close", 0.0, "normal"]]
      end
      settings = settings.reject { |_, to, _| to > 1.0 } unless control.kind == :needle_valve
      settings.reject { |_, to, _| (to - control.position).abs < 1.0e-6 }
        .map { |label, to, speed| Button.new(label: label, fields: {kind: "turn", valve: control.id, to: to, speed: speed}) }
        .concat(wire(control))
    end

    # A shut, free test cock can be cleared.
    def wire(control)
      return [] unless control.kind == :test_cock && !control.open? && state.on_test_cock(control.id).nil?

      [Button.new(label: "Clear with a wire", fields: {kind: "clean", at: control.id})]
    end

    def hose_buttons(hose)
      list = assembly.test_cocks.keys.reject { |cock| state.hose_ends[hose.id] == cock }.map do |cock|
        Button.new(label: "Put on #{WORDS.control(cock)}", fields: {kind: "connect", hose: hose.id, to: cock})
      end
      list << Button.new(label: "Take off", fields: {kind: "disconnect", hose: hose.id}) unless state.hose_ends[hose.id] == :free
      list << Button.new(label: "Turn end for end", fields: {kind: "swap_ends", hose: hose.id}) if state.hose_ends[hose.id] == :free
      list + near_buttons(hose)
    end

    def gauge_buttons
      list = assembly.levels.values.reject { |level| level.elevation_in == state.gauge_in }.map do |level|
        Button.new(label: "Hold level with #{level.label}", fields: {kind: "level", to: level.elevation_in})
      end
      list.unshift(Button.new(label: state.captured_psid ? "Release" : "Capture", fields: {kind: state.captured_psid ? "release" : "capture"})) if digital?
      list
    end

    # Fittings in the box, and the test cocks they can go on.
    def box_buttons
      Nurv::Bench::Hands::FITTINGS.flat_map do |fitting|
        name = WORDS.fitting(fitting)
        next [Button.new(label: "Take the #{name} off", fields: {kind: "unfit", fitting: fitting})] if state.fittings.key?(fitting)

        assembly.test_cocks.keys.map { |cock| Button.new(label: "#{name.capitalize} on #{WORDS.control(cock)}", fields: {kind: "fit", fitting: fitting, to: cock}) }
      end
    end

    def canopy_buttons
      to = (state.canopy == :on) ? "off" : "on"
      [Button.new(label: "Canopy #{to}", fields: {kind: "canopy", to: to})]
    end

    def watch_buttons
      list = [[:gauge, "gauge"], watched_thing].compact.reject { |at, _| at == state.watching }
      list = [] unless watched_thing
      list.map { |at, name| Button.new(label: "Watch the #{name}", fields: {kind: "watch", at: at}) }
    end

    def gauge_height = format("%+g in", state.gauge_in)

    # --- eyes and voice

    def things
      ids = WORDS::LOOKS.keys - (assembly.components.include?(:relief_valve) ? [] : [:relief_port])
      (ids | station.site.things.keys).map { |id| thing(id, station.site.things[id]) }
    end

    # A label and a needle are evidence enough; what is wrong with them is for the tester to see.
    def thing(id, site)
      text = station.finding_at(id)&.text unless %i[kit_label gauge_zero].include?(id)
      unread = id == :plate && plate_unreadable? && state.looked.include?(:plate_corroded)
      Thing.new(id: id, label: site&.label || WORDS::LOOKS[id], text: unread ? "Corroded; nothing can be read. Clean it first." : text || site&.text || standard_text(id),
        seen: unread || state.looked.include?(id), noted: noted?(id))
    end

    def plate_unreadable? = station.plate_corroded? && !state.looked.include?(:plate_cleaned)

    # What the needle shows with both ports open to air.
    def at_rest_psid = station.zero_error_psid

    # --- mending

    def repairs? = station.repairs?

    def repaired? = state.changes.any? { |change| change[:kind] == "repair" }

    def repaired_parts = state.changes.select { |change| change[:kind] == "repair" }.map { |change| "#{WORDS.part(change[:component].to_sym)}: #{Nurv::Catalog.default.repairs.fetch(change[:action].to_sym).label.downcase}" }

    def parts_to_repair = (assembly.components + assembly.shutoff_valves).map { |part| [part, WORDS.part(part)] }

    def ways_to_repair = Nurv::Catalog.default.repairs.values

    def noted?(thing) = state.findings.include?(thing.to_s)

    def refused = station.finding_at(:permission)&.text

    def people
      station.site.people.values.map do |person|
        said = person.topics.select { |topic| state.told.include?([person.id, topic.to_sym]) }
        [person, person.topics - said, said]
      end
    end

    def says(topic) = WORDS::TOPICS.fetch(topic.to_sym)

    def reply(topic)
      return refused if refused && topic == "shutdown"

      {"shutdown" => "“Go ahead. Call me before it comes back on.”", "water_on" => "“Right, everything here is shut. Go on.”",
       "result" => "“Thank you.”"}.fetch(topic)
    end

    # --- paper

    # The procedure the tester means to follow: the one named on the report, or the first allowed.
    def procedure = procedures.find { |item| item.id.to_s == report(:procedure) } || procedures.first

    # As this attempt's policy has them, with an instructor's labels and limits.
    def procedures = @procedures ||= attempt.respond_to?(:grading_policy) ? station.procedures.map { |item| attempt.grading_policy.adjust(item) } : station.procedures

    def items = [procedure].flat_map { |procedure| procedure.items.values }.uniq(&:id)

    def notes = state.notebook.map { |note| [note, station.procedures.flat_map { |item| item.items.values }.find { |item| item.id == note.item }&.label || note.item.to_s.tr("_", " ")] }

    def report(field) = state.report[field].to_s

    def components = assembly.components

    # Every diagnosis that this sort of assembly can have, so that the list betrays nothing.
    def diagnoses
      faults = Nurv::Catalog.default.faults.values.select { |fault| fault.applies_to?(assembly.id) }
      names = faults.map { |fault| "#{fault.component}:#{fault.reason}" } + ["supply:fluctuates", "site:must_not_test"]
      [["none:healthy", "Nothing wrong"]] + names.uniq.map { |name| [name, Web.diagnosis_words(name)] }
    end

    private

    def control(id, kind, x, y)
      position = state.rest_position(id)
      label = kit.valves[id]&.label || WORDS.control(id)
      Control.new(id: id, label: label, x: x, y: y, kind: kind, position: position, words: ActWords.position(id, position))
    end

    def needle_buttons(control)
      here = control.position
      steps = [["−¼", -0.25], ["−⅛", -0.125], ["+⅛", 0.125], ["+¼", 0.25], ["+½", 0.5], ["+1", 1.0]]
      turns = steps.map { |label, by| [label, here + by, "normal"] }.select { |_, to, _| to.between?(0.0, 2.5) }
      turns + [["Close slowly", 0.0, "slow"], ["Close", 0.0, "normal"], ["Open wide", 2.5, "normal"]]
    end

    def near_buttons(hose)
      return [] unless hose.detachable

      near = state.hose_ends[:"#{hose.id}_near"]
      return [Button.new(label: "Kit end back on the kit", fields: {kind: "disconnect", hose: hose.id, end: "near"})] if near != :kit

      assembly.test_cocks.keys.map do |cock|
        Button.new(label: "Kit end to #{WORDS.control(cock)}", fields: {kind: "connect", hose: hose.id, to: cock, end: "near"})
      end
    end

    def hose_place(far, near)
      words = (far == :free) ? "free end in the bucket" : "on #{WORDS.control(far)}"
      (near && near != :kit) ? "#{words}, kit end on #{WORDS.control(near)}" : words
    end

    def cock_x(cock) = place(cock)[:x]

    # Path, and [end x, end y, tag x, tag y].
    def from_port(hose, far)
      x = kit.drawing[:ports].fetch(hose.id)[:x]
      if far == :free
        end_x, end_y = kit.drawing[:free_ends].fetch(hose.id)
        return ["M#{x} #{KIT_TOP_Y} C#{x} #{KIT_TOP_Y - 52} #{end_x} #{KIT_TOP_Y - 62} #{end_x} #{KIT_TOP_Y + 30} L#{end_x} #{end_y}",
          [end_x, end_y, end_x, end_y - 40]]
      end
      cock = cock_x(far)
      lane = cock + 40
      ["M#{x} #{KIT_TOP_Y} C#{x} #{KIT_TOP_Y - 36} #{lane} #{KIT_TOP_Y - 30} #{lane} #{KIT_TOP_Y - 70} L#{lane} 96 " \
       "C#{lane} 62 #{cock} 62 #{cock} #{COCK_TOP_Y}", [cock, COCK_TOP_Y, lane, 250]]
    end

    def joined(near, far, hose)
      from = cock_x(near)
      return ["M#{from} #{COCK_TOP_Y} C#{from} 40 #{from + 60} 34 #{from + 90} 60", [from + 90, 60, from + 60, 46]] if far == :free

      to = cock_x(far)
      ["M#{from} #{COCK_TOP_Y} C#{from} 30 #{from + 40} 30 #{from + 80} 30 L#{to - 80} 30 C#{to - 40} 30 #{to} 30 #{to} #{COCK_TOP_Y}",
        [to, COCK_TOP_Y, (from + to) / 2, 30]]
    end

    def outlet_spots
      spots = assembly.test_cocks.keys.to_h { |cock| [cock, [cock_x(cock), COCK_TOP_Y - 2, :up, WORDS.control(cock)]] }
      spots[:relief_valve] = [relief_x, 306, :down, "Relief port"] if relief_x
      spots[:residual] = [relief_x + 62, 232, :down, "Body of CV2"] if relief_x
      spots.merge!(fitting_spots)
      kit.valves.each_key do |valve|
        spout = kit.drawing[:valves][valve][:spout]
        spots[valve] = [spout[:x], spout[:y], :down, kit.valves[valve].label] if spout
      end
      hoses.each do |hose|
        spots[:"hose_#{hose.id}"] = [hose.end_x, hose.end_y + 4, :down, hose.name] if state.hose_ends[hose.id] == :free
      end
      spots
    end

    def fitting_spots
      tube = on_cock(:sight_tube)
      tee = on_cock(:bleed_off_tee)
      spots = {}
      spots[:sight_tube_brim] = [tube, 24, :up, "Sight tube"] if tube
      spots[:tee_needle] = [tee - 66, 90, :down, "Tee"] if tee
      spots[:tee_side] = [tee, 74, :up, "Tee"] if tee
      spots[:downstream_tap] = [tap.x, 222, :down, "Tap"]
      spots[:air_inlet] = [air_inlet_x, 96, :up, "Air inlet"] if air_inlet_x
      spots
    end

    def strainers
      wrong = state.turned_hoses.map { |hose| kit.hoses[hose].name.downcase }
      wrong.empty? ? "Strainers at the assembly's ends." : "Strainer at the kit's end: #{wrong.join(", ")}."
    end

    def standard_text(id)
      case id
      when :plate then "#{station.plate[:make]} #{station.plate[:model]}, #{station.plate[:type]}, #{station.plate[:size]}, serial #{station.plate[:serial]}."
      when :arrow then "The arrow on the body points from SOV1 to SOV2. #{station.site.place}."
      when :relief_port then "Relief port: #{relief_word}."
      when :test_cocks then "Caps on, threads clean."
      when :kit_label then "Kit #{station.kit_state[:serial]}, accuracy last checked #{station.kit_state[:checked_on]}."
      when :gauge_zero then "Both ports open to air, the needle stands at #{format("%.1f", at_rest_psid)}; all kit valves as drawn."
      when :meter then station.meter ? "Meter #{station.meter[:number]}, reading #{station.meter[:reading]}." : "A sealed meter; nobody asked for its reading here."
      when :hoses then "Hoses sound, washers and test cock adapters in place. #{strainers}"
      when :leaks then "Joints, packings and caps: no leak to be seen."
      else "Nothing out of the ordinary."
      end
    end
  end
end
