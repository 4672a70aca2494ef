# frozen_string_literal: true

module Web
  # How an assembly lies on the sheet of its drawing. One that lies is drawn as its data have it; one that stands is
  # that drawing turned by a quarter, its cocks towards the kit, its words upright, and the rule beside it to its scale.
  module BenchPose
    # Where the quarter turn puts the corner of a drawing that stands, and how much smaller it is.
    LEFT = 106
    TOP = -50
    SCALE = 0.9
    # Words are so much larger there, since the sheet is wider, and what a finger meets.
    WORDS = 1.2
    FINGER_R = {lying: 29, standing: 34}.freeze
    KNOB_R = {lying: 29, standing: 33}.freeze
    # What levers and cocks have to be larger by there, on the side where nothing else is.
    FINGER_ROOM = {lying: 0, standing: 7}.freeze
    # What is level with the gauge, from the mark on its rule: the assembly is on this side of it.
    SIGHT = {lying: "M30 0 H860", standing: "M-226 0 H-6"}.freeze
    # The pipe's centre in the drawing of one that lies, and how far up and down its rule goes on the sheet.
    PIPE_Y = 190
    RULE_Y = [-44, 600].freeze
    # The edge of a drawn air inlet's seat, before it is put at the height that it has.
    SEAT_Y = 128
    # Which way what runs out is drawn.
    WAYS = {down: "", up: "scale(1 -1)", right: "rotate(-90)"}.freeze

    def standing? = station.standing?

    # @return [String] of the sheet
    def view_box = standing? ? "-182 -58 1014 752" : "-56 -64 876 704"

    # @return [String] a transform for what is drawn along the flow
    def pose = standing? ? "translate(#{LEFT} #{TOP}) rotate(90) scale(#{SCALE})" : ""

    # @param x [Numeric] in the drawing of one that lies
    # @param y [Numeric]
    # @return [Array(Numeric, Numeric)] on the sheet
    def on_sheet(x, y) = standing? ? [(LEFT - y * SCALE).round(1), (TOP + x * SCALE).round(1)] : [x, y]

    # @return [String] a transform for words about this point of what is turned
    def upright(x, y)
      standing? ? "translate(#{x} #{y}) rotate(-90) scale(#{WORDS}) translate(#{-x} #{-y})" : ""
    end

    # The pipe of the place, from the floor to the ceiling where it stands; its cocks are on the side that the bench has
    # them.
    #
    # @return [String] a transform
    def site_pose
      return "" unless standing?

      to_the_left? ? "translate(600 470) rotate(90) scale(-0.57 0.57)" : "translate(600 0) rotate(90) scale(0.57)"
    end

    # @return [String] class by which words are turned back there
    def site_turn = standing? ? "site-turned #{"other-way" if to_the_left?}" : ""

    # @return [Array(Numeric, Numeric, Numeric)] where a cock's name is, in the drawing of one that lies, and how far
    #   under that how it stands: under it where it stands, clear of a tube on the next, or over it where the lever of a
    #   shutoff is under it
    def cock_words(x)
      return [x - 36 * side, 126, 0] unless standing?

      lever_under = assembly.shutoff_valves.any? { |valve| (place(valve)[:x] - x).between?(0, 95) }
      lever_under ? [x - 34, 146, -16] : [x + 34, 146, 24]
    end

    # @return [Array(Numeric, Numeric)] how far beside its cock a tee's needle is, and how far its arm reaches
    def tee_reach = standing? ? [40, 70] : [-36, -66]

    # @return [String] what heights are measured from
    def datum = standing? ? "the middle of the body" : "the pipe's centre"

    # @return [Integer] of the circle that a finger has to meet
    def finger_r = FINGER_R.fetch(way_it_is)

    def knob_finger_r = KNOB_R.fetch(way_it_is)

    def finger_room = FINGER_ROOM.fetch(way_it_is)

    # @return [String] a path
    def level_line = SIGHT.fetch(way_it_is)

    # @return [Array(Integer, Integer)] the middle of what is seen close up: clear of the cocks' names
    def close_up_place = [738, standing? ? 66 : 30]

    # @return [String] a transform for the scale of what is tinted, out of the way of what is drawn
    def tint_scale_place = standing? ? "" : "translate(0 -66)"

    # @return [String] a transform for the box of fittings, out of the way of what hangs low
    def box_place = standing? ? "translate(420 -500)" : ""

    # @return [String] a transform for what is fitted onto a cock: it goes up from the outlet, wherever that points
    def at_outlet(x)
      return "" unless standing?

      there = on_sheet(x, BenchPlaces::COCK_TOP_Y)
      "translate(#{(there[0] - x).round(1)} #{(there[1] - BenchPlaces::COCK_TOP_Y).round(1)})"
    end

    # @return [String] a transform for a tube that reaches six inches up from there, by the rule
    def tube_scale
      long = (rule_of[:per_inch] * Nurv::Equipment::Assembly::TUBE_IN / 84).round(3)
      "translate(0 #{BenchPlaces::COCK_TOP_Y}) scale(1 #{long}) translate(0 #{-BenchPlaces::COCK_TOP_Y})"
    end

    # @return [Integer] how much farther up than it is drawn the air inlet is
    def air_inlet_rise = SEAT_Y - rule_y(assembly.levels.fetch(:air_inlet).elevation_in)

    # Inches above the pipe's centre, or above the middle of the body, down a rule, and where the gauge is held. The
    # rule has the scale of the drawing, so that level looks level; heights have no names there: with which of them the
    # gauge is to be level is what a tester has to know.
    def rule
      marks = (rule_of[:from]..rule_of[:to]).step(2)
      marks.map { |inches| [rule_y(inches), (inches.to_s if (inches % 4).zero?)] }
    end

    def rule_of = @rule_of ||= standing? ? standing_rule : lying_rule

    def gauge_y = rule_y(state.gauge_in.clamp(rule_of[:from] - 1, rule_of[:to] + 1))

    def rule_y(inches) = (rule_of[:zero_y] - inches * rule_of[:per_inch]).round

    private

    def way_it_is = standing? ? :standing : :lying

    def standing_rule
      middle, per_inch = assembly.standing_scale
      {from: -12, to: 14, per_inch: per_inch * SCALE, zero_y: TOP + across(middle) * SCALE, x: 40}
    end

    # Outlets are all drawn as high above the pipe as the highest of them is.
    def lying_rule
      highest_in = assembly.test_cocks.values.map(&:elevation_in).max
      per_inch = (PIPE_Y - BenchPlaces::COCK_TOP_Y) / highest_in
      to, from = RULE_Y.map { |y| even((PIPE_Y - y) / per_inch) }
      {from: from, to: to, per_inch: per_inch, zero_y: PIPE_Y.to_f, x: -54}
    end

    # The last even number of inches on the way there.
    def even(inches) = (inches / 2.0).truncate * 2
  end
end
