# frozen_string_literal: true

module Web
  # The part of a bench's screen that says what can be done: for each thing in hand its acts, each in a place of its own
  # that never moves. What cannot be done from where it stands is there and does nothing.
  module BenchButtons
    # label [String]; fields [Hash] of the act; id [String] in the page; look [String] classes beside .btn; aria
    # [String, nil] what it is called where its label alone does not say; off [Boolean] not possible now; slot
    # [Integer, nil] its place, row by row; wide [Boolean] it takes two; again [Boolean] two presses are two acts,
    # however fast
    Button = Struct.new(:label, :fields, :id, :look, :aria, :off, :slot, :wide, :again, keyword_init: true)

    # @param owner [String, Symbol] what is in hand
    # @param buttons [Array<Button>]
    # @return [Array<Button>] the same with the ids that keys and focus find them by
    def acts(owner, buttons) =
      buttons.map do |button|
        button.dup.tap do |act|
          act.look = "btn-act"
          act.id = "b_#{owner}_#{button.label.downcase.gsub(/[^a-z0-9+−⅛¼½]+/, "_")}"
        end
      end

    # @param buttons [Array<Button>]
    # @return [Array<Button, nil>] place after place, nil where nothing is to be done
    def placed(buttons)
      by_slot = buttons.to_h { |button| [button.slot, button] }
      taken = buttons.select(&:wide).map { |button| button.slot + 1 }
      ((1..by_slot.keys.max).to_a - taken).map { |slot| by_slot[slot] }
    end

    # Of a lever and a knob alike, what opens is in the upper row and what closes in the lower, the whole way last.
    # label, to (or how far from here), how, place
    LEVERS = {
      shutoff_valve: [
        ["Open slowly", 1.0, "slow", 4],
        ["Open", 1.0, "normal", 5],
        ["Close slowly", 0.0, "slow", 9],
        ["Close", 0.0, "normal", 10]
      ],
      tap: [["A little", 0.02, "normal", 4], ["Open", 1.0, "normal", 5], ["Close", 0.0, "normal", 10]],
      test_cock: [
        ["Crack", 0.1, "normal", 3],
        ["Half", 0.5, "normal", 4],
        ["Open", 1.0, "normal", 5],
        ["Close", 0.0, "normal", 10]
      ]
    }.freeze
    KNOB = [
      ["+⅛", 0.125, 1],
      ["+¼", 0.25, 2],
      ["+½", 0.5, 3],
      ["+1", 1.0, 4],
      ["−⅛", -0.125, 6],
      ["−¼", -0.25, 7],
      ["−½", -0.5, 8]
    ].freeze
    KNOB_WHOLE = [
      ["Open wide", Nurv::Equipment::Kit::TURNS, "normal", 5],
      ["Close slowly", 0.0, "slow", 9],
      ["Close", 0.0, "normal", 10]
    ].freeze

    # @return [Array<Button>] what can be done to this control
    def buttons(control)
      whole = control.knob? ? KNOB_WHOLE : LEVERS.fetch(control.kind)
      (control.knob? ? by_turns(control) : []) +
        whole.map { |label, to, speed, slot| turn_button(control, label, to, speed, slot) } + besides(control)
    end

    # What else hands do to it than turn it.
    def besides(control)
      case control.kind
      when :test_cock then wire(control) + outfit(control)
      when :shutoff_valve then [tighten(control)]
      else []
      end
    end

    # A firmer hand on what is shut.
    def tighten(control)
      off = control.open? || state.tightened.include?(control.id)
      Button.new(label: "Tighten", fields: {kind: "tighten", valve: control.id}, slot: 8, off: off)
    end

    # Where its station has them: the cock's cap, and an adapter for hoses.
    def outfit(control)
      cock = control.id
      taken = control.open? || !state.on_test_cock(cock).nil?
      capped, adapted = [state.capped, state.adapted].map { |list| list.include?(cock) }
      list = []
      list << on_or_off("cap", cock, capped, slot: 1, off: taken || adapted) if station.capped?
      list << on_or_off("adapt", cock, adapted, slot: 2, off: taken || capped, name: "Adapter") if station.adapters?
      list
    end

    def on_or_off(kind, cock, on, slot:, off:, name: kind.capitalize)
      to = on ? "off" : "on"
      Button.new(label: "#{name} #{to}", fields: {kind: kind, at: cock, to: to}, slot: slot, off: off)
    end

    # A shut, free test cock can be cleared.
    def wire(control)
      off = control.open? || !state.on_test_cock(control.id).nil? || state.capped.include?(control.id)
      [Button.new(label: "Clear with a wire", fields: {kind: "clean", at: control.id}, slot: 6, wide: true, off: off)]
    end

    # @return [Array<Button>] the tags that can hang on it, and off again
    def tag_buttons(control)
      return [] unless tagged_by_hand?

      fit = Nurv::Bench::Tags.for(station, control.id)
      tags = fit.map.with_index do |tag, index|
        name = station.catalog.words.control(tag)
        Button.new(
          label: name,
          aria: "Hang the tag #{name} on it",
          fields: {kind: "tag", at: control.id, as: tag},
          slot: index + 1,
          off: state.tags[control.id] == tag
        )
      end
      return tags if tags.empty?

      off = {label: "No tag", aria: "Take the tag off", fields: {kind: "tag", at: control.id, as: ""}, slot: 5}
      tags << Button.new(**off, off: !state.tags.key?(control.id))
    end

    def hose_buttons(hose)
      free = state.hose_ends[hose.id] == :free
      on_cocks = cocks.each_with_index.map do |cock, index|
        Button.new(
          label: tag_of(cock) ? "Put on #{words.control(cock)}" : words.control(cock),
          aria: ("Put on the #{words.control(cock).downcase}" unless tag_of(cock)),
          fields: {kind: "connect", hose: hose.id, to: cock},
          slot: index + 1,
          off: state.hose_ends[hose.id] == cock
        )
      end
      off = Button.new(label: "Take off", fields: {kind: "disconnect", hose: hose.id}, slot: 5, off: free)
      swap = {kind: "swap_ends", hose: hose.id}
      turn = Button.new(label: "Swap ends", aria: "Turn it end for end", fields: swap, slot: 10, off: !free)
      on_cocks + [off, turn] + near_buttons(hose)
    end

    # Up in the upper row, down in the lower. Which height is the right one is for the tester to know.
    LIFTS = [
      ["+½ in", 0.5, 1],
      ["+1 in", 1.0, 2],
      ["+3 in", 3.0, 3],
      ["−½ in", -0.5, 6],
      ["−1 in", -1.0, 7],
      ["−3 in", -3.0, 8]
    ].freeze

    def gauge_buttons
      lifts = LIFTS.map do |label, by, slot|
        to = (state.gauge_in + by).round(2)
        off = to.abs > Nurv::Bench::Hands::GAUGE_REACH_IN
        Button.new(label: label, fields: {kind: "level", to: to}, slot: slot, off: off, again: true)
      end
      digital? ? lifts + face_buttons : lifts
    end

    # Whether it has fallen asleep by itself is for the tester to see: what may be is offered.
    def face_buttons
      kind = state.captured_psid ? "release" : "capture"
      light = state.lit ? "off" : "on"
      wakes = state.power != :on || station.kit_state[:sleeps_after_s]
      [
        Button.new(label: "Switch on", fields: {kind: "power", to: "on"}, slot: 4, off: !wakes),
        Button.new(label: kind.capitalize, fields: {kind: kind}, slot: 5),
        Button.new(label: "Switch off", fields: {kind: "power", to: "off"}, slot: 9, off: state.power == :off),
        Button.new(label: "Light #{light}", fields: {kind: "light", to: light}, slot: 10)
      ]
    end

    # @return [Array<Array(Symbol, String)>] memories of a digital kit, and what they are called
    def memories = station.memories.map { |id| [id, item_label(id)] }

    # What is stored is seen by eyes on the gauge, while it is switched on.
    #
    # @return [Array<Array(String, String, Button)>] name, value, and a button that jots it down
    def stored
      return [] if blurred? || state.power != :on

      state.memories.map do |id, (psid, _)|
        value = Nurv::Units.number(psid, unit: unit)
        jot = {kind: "jot", item: id, value: value}
        [item_label(id), value, Button.new(label: "Jot", aria: "Jot #{item_label(id)}, #{value}", fields: jot)]
      end
    end

    # @return [Array<Array(String, Array<Button>)>] each fitting of the box: the test cocks it can go on, and off again
    def box_rows
      Nurv::Bench::Hands::FITTINGS.map do |fitting|
        name = words.fitting(fitting)
        on = state.fittings[fitting]
        on_cocks = cocks.each_with_index.map do |cock, index|
          Button.new(
            label: words.control(cock),
            fields: {kind: "fit", fitting: fitting, to: cock},
            aria: "#{name.capitalize} on #{words.control(cock)}",
            slot: index + 1,
            off: !on.nil?
          )
        end
        off = Button.new(
          label: "Off", fields: {kind: "unfit", fitting: fitting}, aria: "Take the #{name} off", slot: 5, off: on.nil?
        )
        [fitting, [*on_cocks, off]]
      end
    end

    def canopy_buttons
      to = (state.canopy == :on) ? "off" : "on"
      [Button.new(label: "Canopy #{to}", fields: {kind: "canopy", to: to})]
    end

    def watch_buttons
      return [] unless watched_thing

      [[:gauge, "gauge"], watched_thing].map do |at, name|
        Button.new(label: "Watch the #{name}", fields: {kind: "watch", at: at}, off: at == state.watching)
      end
    end

    private

    def by_turns(control)
      KNOB.map do |label, by, slot|
        to = (control.position + by).round(3)
        button = turn_button(control, label, to, "normal", slot)
        button.off = !to.between?(0.0, control.limit)
        button.again = true
        button
      end
    end

    def turn_button(control, label, to, speed, slot) =
      Button.new(
        label: label,
        fields: {kind: "turn", valve: control.id, to: to, speed: speed},
        slot: slot,
        off: (to - control.position).abs < 1.0e-6
      )

    def near_buttons(hose)
      return [] unless hose.detachable

      near = state.hose_ends[hose.near]
      on_cocks = cocks.each_with_index.map do |cock, index|
        Button.new(
          label: "Kit end to #{words.control(cock)}",
          fields: {kind: "connect", hose: hose.id, to: cock, end: "near"},
          slot: index + 6,
          off: near == cock
        )
      end
      back = {kind: "disconnect", hose: hose.id, end: "near"}
      on_cocks << Button.new(label: "Kit end back on the kit", fields: back, slot: 11, off: near == :kit)
    end
  end
end
