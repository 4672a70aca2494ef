# frozen_string_literal: true

module Web
  # A bench as it is drawn: places of parts, words for their positions, what can be done to each, what there is to
  # see.
  class BenchScreen
    include BenchButtons
    include BenchPlaces
    include BenchPose
    include BenchSight
    include BenchPaper

    PIPE_Y = 190
    SHEET_WIDTH = 820
    HORIZON_MS = (::Benches::Keeper::AHEAD_S * 1000).to_i
    KEYS = {
      shutoff_valve_1: "i",
      shutoff_valve_2: "o",
      test_cock_1: "1",
      test_cock_2: "2",
      test_cock_3: "3",
      test_cock_4: "4",
      high_bleed: "h",
      low_bleed: "l",
      high_control: "H",
      low_control: "L",
      bypass_control: "b",
      vent_control: "v",
      valve_a: "a",
      valve_b: "b",
      tee_needle: "t",
      downstream_tap: "d",
      box: "f",
      air_inlet: "r",
      hose_high: "x",
      hose_low: "y",
      hose_bypass: "z",
      hose_vent: "z",
      gauge: "g",
      relief_valve: "r"
    }.freeze

    WATCHED = {air_inlet: "air inlet", relief_port: "relief port"}.freeze

    # Of an analogue face: marks from one to the next, and every how many of them one is long and bears its number; all
    # in the unit of the face, the last where the needle stops at 15 psid or before.
    FACES = {psi: [0.2, 5, 15.0], kpa: [2.0, 5, 100.0]}.freeze
    DEGREES_PER_PSID = 18.0
    REST_DEGREES = -135.0

    # Marks and numerals of the analogue face never change, so they are drawn once.
    DIALS =
      FACES.to_h do |unit, (step, every, last)|
        degrees = ->(shown) { shown / Nurv::Units::PER_PSI.fetch(unit) * DEGREES_PER_PSID + REST_DEGREES }
        marks =
          (0..(last / step).round).map do |tick|
            major = (tick % every).zero?
            %(<path class="#{major ? "dial-mark" : "dial-mark-minor"}" d="M0 #{major ? -84 : -92} V-100" ) +
              %(transform="rotate(#{degrees.call(tick * step).round(1)})"/>)
          end
        numerals =
          (0..(last / step / every).round).map do |mark|
            angle = degrees.call(mark * step * every) * Math::PI / 180
            x, y = (Math.sin(angle) * 70).round(1), (-Math.cos(angle) * 70 + 5).round(1)
            %(<text class="numeral" x="#{x}" y="#{y}">#{(mark * step * every).round}</text>)
          end
        [unit, (marks + numerals).join]
      end.freeze

    Control =
      Struct.new(:id, :label, :x, :y, :position, :words, :kind, :bare, :key, keyword_init: true) do
        def open? = position.positive?

        # Turns of a knob, or the whole way of a lever.
        def limit = knob? ? Nurv::Equipment::Kit::TURNS : 1.0

        # How far a clockwise degree of the hand turns it: a knob shuts clockwise, a lever has a quarter to go.
        def per_degree = knob? ? -1.0 / 360 : 1.0 / 90

        # Clockwise degrees at which it is drawn shut.
        def zero_degrees = (kind == :shutoff_valve) ? -90 : 0

        # And as it stands.
        def degrees = (zero_degrees + position / per_degree).round(1)

        def knob? = kind == :needle_valve

        def name = "#{label}, #{words}"

        # The view that draws it.
        def picture = (id == :tee_needle) ? id : kind
      end
    Outlet = Struct.new(:id, :x, :y, :way, :label, :word, keyword_init: true)

    # The bench of a running attempt, with its next two seconds.
    #
    # @param keeper [Benches::Keeper]
    # @param inside [Boolean] the page shows the chambers' pressures as well
    # @param until_ms [Integer, nil] simulated; no further is known what happens
    # @param eyes [Boolean] it is a tester's own page: it holds no more than their eyes see
    def self.live(attempt, wall_ms, keeper, inside: false, until_ms: nil, eyes: false)
      bench = keeper.of(attempt)
      now_ms = attempt.clock_ms(wall_ms)
      bench.look do |span|
        new(
          attempt,
          span,
          testers: eyes,
          now_ms: now_ms,
          seq: bench.seq,
          until_ms: attempt.paused? ? now_ms : [now_ms + HORIZON_MS, until_ms].compact.min,
          left_ms: attempt.left_ms(wall_ms),
          inside: inside && attempt.coached?,
          eyes: eyes && !(inside && attempt.coached?)
        )
      end
    end

    attr_reader :attempt, :seq, :now_ms, :frames, :left_ms

    # @param inside [Boolean] with the pressures of the chambers
    # @param eyes [Boolean] as the tester's eyes see it
    # @param testers [Boolean] it is the tester's own: things are called as the tags say that the tester hung on them
    def initialize(
      attempt,
      span,
      now_ms:,
      seq:,
      until_ms:,
      testers: false,
      left_ms: nil,
      inside: attempt.mode == "practice",
      eyes: false
    )
      @shows_inside = inside
      @testers = testers
      @attempt = attempt
      @state = span.state
      @now_ms = [now_ms, (span.from_s * 1000).round].max
      @seq = seq
      @left_ms = left_ms
      @frames =
        Nurv::Bench::Frames.new(
          span,
          @now_ms / 1000.0,
          until_ms / 1000.0,
          inside: inside,
          grain_psid: grain_psid
        ).to_h
      @needle_psid = @frames[:needle].first[1]
      @port_word = @frames[:outlets][:relief_valve]&.first&.last || "dry"
      return unless eyes

      @glance = Nurv::Bench::Glance.new(span.variant, @state)
      @frames = @glance.of(@frames)
    end

    # What a look at the port has just shown.
    #
    # @return [String, nil]
    attr_reader :glimpse

    def look_at(thing) = @glimpse = (thing == "relief_port") ? @port_word : nil

    # @return [Boolean] the gauge is in the corner of the tester's eye
    def blurred? = @glance&.blurred? || false

    # @return [Boolean] the port, or the poppet, is not what the tester looks at
    def port_unseen? = @glance&.port_unseen? || false

    # In an exam a page holds no more of the needle than its face shows.
    def grain_psid
      frames = Nurv::Bench::Frames
      if attempt.exam?
        # Digits are a tenth of what they are in.
        digital? ? frames::FACE_PSID.fetch("digital") / per_psi : frames::FACE_PSID.fetch("analogue")
      else
        frames::FINE_PSID
      end
    end

    def station = attempt.station

    # @return [Nurv::Words] with the names that things have at this bench
    def words = @words ||= Nurv::Bench::Tags.words(station, state, tagged_by_hand?)

    # @return [Boolean] the tester hangs tags here
    def tagged_by_hand? = @testers && station.tags_to_hang?

    # @return [Symbol, nil] what it is known as; nil while it waits for a tag
    def tag_of(id) = (tagged_by_hand? && Nurv::Bench::Tags.for(station, id).any?) ? state.tags[id] : id

    # @return [Boolean] which way the water flows is told: everywhere but where the tester has yet to look
    def direction_known? = !tagged_by_hand? || state.looked.include?(:arrow)

    # @return [Array<Symbol>] test cocks in the order in which they are offered: as numbered, or as seen
    def cocks = tagged_by_hand? ? Nurv::Bench::Tags.cocks_from_the_left(station) : assembly.test_cocks.keys

    # Choices for a component's result, and for the whole, each as value and label.
    def results = Nurv::Reports::FieldReport::RESULTS.map { |id| [id.to_s, words.result(id)] }

    def standings = Nurv::Reports::FieldReport::STANDING.map { |id| [id.to_s, words.standing(id)] }

    def overall_results = Nurv::Reports::FieldReport::OVERALL.map { |id| [id.to_s, words.result(id)] }

    def assembly = station.assembly

    def kit = station.kit

    attr_reader :state

    # A control that was just turned: where it comes to rest is told with the frames.
    #
    # @return [Symbol, nil]
    attr_accessor :turned

    def frames_json =
      JSON.generate(
        frames.merge(
          rest: turned && {turned => state.rest_position(turned)},
          seq: seq,
          now_ms: now_ms,
          left_ms: left_ms,
          paused: attempt.paused? ? attempt.mode : nil,
          blurred: blurred? || nil,
          pace: attempt.slow? ? attempt.pace_percent : nil
        ).compact,
        strict: true
      )

    # @return [Boolean] its page may show what is in the chambers
    def inside? = attempt.mode == "practice" || @shows_inside

    # @param name [Symbol] of a part inside, or of a flow along the pipe
    # @return [Float] how far it stands open, or mL/s; nothing until a page asks
    def part_inside(name) = frames.dig(:cut, :parts, name)&.first&.last.to_f

    # @return [Boolean] air stands over the water of a chamber
    def airy?(node) = frames.dig(:cut, :air).to_a.include?(node)

    # @return [Array<Web::CutAway::Check>]
    def cut_away = @cut_away ||= CutAway.new(self)

    # @return [Float, String] psi in a chamber; a dash until a page asks
    def inside_psi(node) = frames.dig(:inside, node)&.first&.last

    def inside_pressure(node)
      psi = inside_psi(node)
      psi ? (psi * per_psi).round(1) : "–"
    end

    # What a page shows once it has played these frames, in short. A page that says so, while nothing moves, need be
    # told nothing.
    def shown
      @shown ||= Digest::SHA256.hexdigest(
        JSON.generate(
          [
            seq,
            still.map(&:last),
            frames[:came_back],
            frames[:spits],
            !frames[:inside].nil?,
            attempt.paused?,
            attempt.pace_percent,
            left_ms && left_ms + now_ms
          ],
          strict: true
        )
      )[0, 16]
    end

    # All that its hands, its place and its papers are drawn from, but for the facts: station, policy, settings, and
    # what the relief port is said to do.
    def looks
      given = %i[station_body policy policy_body mode].map { |name| attempt.public_send(name) }
      set = state.to_h.except(:water, :time_s, :sampled_psid, :controls)
      [given, to_the_left?, tagged_by_hand?, relief_word, state.controls.transform_values(&:to_a), set]
    end

    # What moves in its picture, as it stands; nothing where something is on its way.
    #
    # @return [Array, nil]
    def still_picture
      return unless still.all?(&:first)

      [still.map(&:last), frames.values_at(:spits, :came_back), frames[:cut]&.except(:parts), inside?, @glance.nil?]
    end

    # @param known [String, nil] what a page says that it shows
    # @return [Boolean] all stands, from now until as far as a page is ever told, as that page has it
    def nothing_new?(known) = still.all?(&:first) && known == shown

    def clock = Nurv::Units.clock(now_ms / 1000.0)

    # --- picture

    # @return [Numeric] a part's middle along the flow, as an assembly's data has it
    def along(part) = assembly.drawing.fetch(part)[:x]

    # The flow runs to the right or, at some stations, to the left.
    #
    # @return [Hash] x: its middle on the sheet
    def place(part) = {x: across(along(part))}

    # @param x [Numeric] along the flow
    # @return [Numeric] on the sheet
    def across(x) = to_the_left? ? SHEET_WIDTH - x : x

    def to_the_left? = station.to_the_left?

    # @return [String] of what is drawn along the flow and has its other half
    def along_flow = to_the_left? ? "translate(#{SHEET_WIDTH} 0) scale(-1 1)" : ""

    def shutoff_valves =
      @shutoff_valves ||= assembly.shutoff_valves.map { |id| control(id, :shutoff_valve, place(id)[:x], PIPE_Y) }

    def test_cocks = @test_cocks ||= cocks.map { |id| control(id, :test_cock, place(id)[:x], 150) }

    def kit_valves
      @kit_valves ||=
        kit.valves.values.map do |valve|
          spot = kit.drawing[:valves].fetch(valve.id)
          control(valve.id, :needle_valve, spot[:x], spot[:y])
        end
    end

    def controls = @controls ||= shutoff_valves + test_cocks + kit_valves + tee_needles + taps

    # Where a spout drips below the knob, its name stands above it.
    def name_above?(valve) = kit.drawing[:valves][valve.id].key?(:spout)

    def buckets =
      hoses.select { |hose| state.hose_ends[hose.id] == :free }.map { |hose| [hose.end_x, hose.end_y + 30] }

    def checks =
      %i[check_valve_1 check_valve_2]
        .select { |id| assembly.components.include?(id) }
        .map { |id| [words.part(id), place(id)[:x]] }

    # The tee's needle, beside the test cock that the tee is on.
    def tee_needles
      cock = state.fittings[:bleed_off_tee] or return []

      [control(:tee_needle, :needle_valve, cock_x(cock) + tee_reach.first, 86)]
    end

    def taps = [control(:downstream_tap, :tap, place(:downstream_tap)[:x], PIPE_Y)]

    def tap = taps.first

    # @return [Array(Integer, Integer)] what eyes that are on the port or the poppet come close to
    def close_up = relief_x ? [relief_x, 308] : [air_inlet_x, 120]

    def air_inlet_x = assembly.components.include?(:air_inlet) && place(:air_inlet)[:x]

    def poppet = frames[:poppet]&.first&.last.to_f

    # What is to be watched at this assembly besides the gauge, and its name.
    def watched_thing = sight.watched && [sight.watched, WATCHED.fetch(sight.watched)]

    # @return [Array<Array(String, String)>] keys that take a thing in hand, and its name
    def keys =
      controls.filter_map { |control| [control.key, control.label] if control.key } + tag_keys +
        hoses.map { |hose| [hose.key, hose.name] } + [[KEYS[:gauge], "Gauge"], [KEYS[:box], "Fittings"]]

    # @return [Array<Array(String, String)>] keys of what has no name yet
    def tag_keys
      return [] unless tagged_by_hand?

      [["1 … #{cocks.size}", "the test cock with that tag on it"], ["i, o", "SOV1, SOV2, by their tags"]]
    end

    # @return [Array<Array(Symbol, String)>] where eyes can be
    def eyes = [[:gauge, "Gauge"], [watched_thing.first, watched_thing.last.capitalize]]

    def watching_words = (state.watching == :gauge) ? "gauge" : watched_thing.last

    def on_cock(fitting) = state.fittings[fitting] && cock_x(state.fittings[fitting])

    # Water in the sight tube, inches above the pipe's centre line.
    def tube_level_in = frames[:tube]&.first&.last.to_f

    # The brim of the tube, inches, and how far below it the water stands in the drawing: six inches are 84.
    def tube_brim_in = assembly.tube_top_in(state.fittings.fetch(:sight_tube))

    def tube_gap = ((tube_brim_in - tube_level_in).clamp(0.0, Nurv::Equipment::Assembly::TUBE_IN) * 14).round

    def line_gauge_number = (frames[:line_gauge]&.first&.last.to_f * per_psi).round

    def relief_x = assembly.components.include?(:relief_valve) && place(:relief_valve)[:x]

    def outlets
      @outlets ||=
        begin
          spots = outlet_spots
          frames[:outlets].filter_map do |id, changes|
            spot = spots[id] or next
            Outlet.new(id: id, x: spot[0], y: spot[1], way: spot[2], label: spot[3], word: changes.first[1])
          end
        end
    end

    # What stands open and where hoses hang, in a line.
    def standing_words
      hung = hoses.filter_map do |hose|
        cock = state.hose_ends[hose.id]
        "#{hose.label} hose on #{words.control(cock)}" if assembly.test_cocks.key?(cock)
      end
      turned = (kit_valves + tee_needles).select(&:open?).map { |control| "#{control.label} #{control.words}" }
      (hung + turned).join(" · ")
    end

    # What runs, in words, for those who cannot see the picture.
    def running
      outlets.reject { |outlet| outlet.word == "dry" }.map do |outlet|
        "#{outlet.label}: #{outlet.word}#{", spitting air" if spits?(outlet)}"
      end
    end

    # @return [Boolean] air comes with its water
    def spits?(outlet) = frames[:spits].to_a.include?(outlet.id)

    # @return [Float] where it stands, whoever sees it
    attr_reader :needle_psid

    # @return [Float] where it is drawn
    def drawn_psid = frames[:needle].first[1]

    # @return [Symbol] :psi or :kpa, as the instructor's gauges read
    def unit = attempt.grading_policy.unit

    def per_psi = Nurv::Units::PER_PSI.fetch(unit)

    # @return [String] what the needle shows, to a tenth of its unit
    def needle_number
      return "–" if blurred?

      face_on? ? Nurv::Units.number(drawn_psid, unit: unit) : FACE_WORDS.fetch(face_word)
    end

    # What a digital face shows that shows no value. The page has the same.
    FACE_WORDS = {"off" => "", "standby" => "", "waking" => "- - -", "unlit" => ""}.freeze

    # @return [String] how the face is now
    def face_word = frames[:face]&.first&.last || "on"

    def face_on? = face_word == "on"

    def unit_name = Nurv::Units.unit_name(unit)

    def dial = DIALS.fetch(unit)

    def needle_angle = (drawn_psid * DEGREES_PER_PSID + REST_DEGREES).round(2)

    def digital? = station.kit_state[:face] == "digital"

    def relief_word = outlets.find { |outlet| outlet.id == :relief_valve }&.word || "dry"

    def gauge_height = format("%+g in", state.gauge_in)

    private

    # Whether each line of keyframes stands, and on what it ends.
    def still
      @still ||=
        [
          [:needle, frames[:needle]],
          *frames[:outlets].to_a,
          *frames[:inside].to_a,
          *frames.dig(:cut, :parts).to_a,
          *%i[face poppet tube line_gauge].map { |name| [name, frames[name]] }
        ].filter_map do |name, points|
          points && [points.all? { |point| point[1] == points[0][1] }, [name, points.last[1]]]
        end
    end

    # What else is to be seen on it.
    def besides_words(id)
      list = []
      list << "capped" if state.capped.include?(id)
      list << "adapter on" if state.adapted.include?(id)
      list << "tight" if state.tightened.include?(id)
      list
    end

    def control(id, kind, x, y)
      position = state.rest_position(id)
      label = kit.valves[id]&.label || words.control(id)
      Control.new(
        id: id,
        label: label,
        x: x,
        y: y,
        kind: kind,
        key: KEYS[tag_of(id)],
        bare: tag_of(id).nil?,
        position: position,
        words: [ActWords.position(id, position), *besides_words(id)].join(", ")
      )
    end
  end
end
