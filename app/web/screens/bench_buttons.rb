# frozen_string_literal: true

module Web
  # The part of a bench's screen that says what can be done: for each thing in hand the acts it offers from where it
  # stands.
  module BenchButtons
    # label [String]; fields [Hash] of the act; id [String] in the page; look [String] classes beside .btn;
    # aria [String, nil] what it is called where its label alone does not say
    Button = Struct.new(:label, :fields, :id, :look, :aria, keyword_init: true)

    # @param owner [String, Symbol] what is in hand
    # @param buttons [Array<Button>]
    # @return [Array<Button>] with the ids that keys and focus find them by
    def acts(owner, buttons) =
      buttons.each do |button|
        button.look = "btn-act"
        button.id = "b_#{owner}_#{button.label.downcase.gsub(/[^a-z0-9+−⅛¼½]+/, "_")}"
      end

    # @return [Array<Button>] what can be done to this control from where it stands
    def buttons(control)
      settings =
        case control.kind
        when :needle_valve
          needle_buttons(control)
        when :shutoff_valve
          [
            ["Open slowly", 1.0, "slow"],
            ["Open", 1.0, "normal"],
            ["Close slowly", 0.0, "slow"],
            ["Close", 0.0, "normal"]
          ]
        when :tap
          [["Open", 1.0, "normal"], ["A little", 0.02, "normal"], ["Close", 0.0, "normal"]]
        else
          [["Open", 1.0, "normal"], ["Half", 0.5, "normal"], ["Crack", 0.1, "normal"], ["Close", 0.0, "normal"]]
        end
      settings = settings.reject { |_, to, _| to > 1.0 } unless control.kind == :needle_valve
      settings
        .reject { |_, to, _| (to - control.position).abs < 1.0e-6 }
        .map do |label, to, speed|
          Button.new(label: label, fields: {kind: "turn", valve: control.id, to: to, speed: speed})
        end
        .concat(wire(control))
    end

    # A shut, free test cock can be cleared.
    def wire(control)
      return [] unless control.kind == :test_cock && !control.open? && state.on_test_cock(control.id).nil?

      [Button.new(label: "Clear with a wire", fields: {kind: "clean", at: control.id})]
    end

    def hose_buttons(hose)
      list =
        assembly
          .test_cocks
          .keys
          .reject { |cock| state.hose_ends[hose.id] == cock }
          .map do |cock|
            Button.new(label: "Put on #{words.control(cock)}", fields: {kind: "connect", hose: hose.id, to: cock})
          end
      unless state.hose_ends[hose.id] == :free
        list << Button.new(label: "Take off", fields: {kind: "disconnect", hose: hose.id})
      end
      if state.hose_ends[hose.id] == :free
        list << Button.new(label: "Turn end for end", fields: {kind: "swap_ends", hose: hose.id})
      end
      list + near_buttons(hose)
    end

    def gauge_buttons
      list =
        assembly
          .levels
          .values
          .reject { |level| level.elevation_in == state.gauge_in }
          .map do |level|
            Button.new(label: "Hold level with #{level.label}", fields: {kind: "level", to: level.elevation_in})
          end
      if digital?
        list.unshift(
          Button.new(
            label: state.captured_psid ? "Release" : "Capture",
            fields: {
              kind: state.captured_psid ? "release" : "capture"
            }
          )
        )
      end
      list
    end

    # Fittings in the box, and the test cocks they can go on.
    def box_buttons
      Nurv::Bench::Hands::FITTINGS.flat_map do |fitting|
        name = words.fitting(fitting)
        if state.fittings.key?(fitting)
          next [Button.new(label: "Take the #{name} off", fields: {kind: "unfit", fitting: fitting})]
        end

        assembly.test_cocks.keys.map do |cock|
          Button.new(
            label: "#{name.capitalize} on #{words.control(cock)}",
            fields: {
              kind: "fit",
              fitting: fitting,
              to: cock
            }
          )
        end
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

    private

    def needle_buttons(control)
      here = control.position
      steps = [["−¼", -0.25], ["−⅛", -0.125], ["+⅛", 0.125], ["+¼", 0.25], ["+½", 0.5], ["+1", 1.0]]
      turns = steps.map { |label, by| [label, here + by, "normal"] }.select { |_, to, _| to.between?(0.0, 2.5) }
      turns + [["Close slowly", 0.0, "slow"], ["Close", 0.0, "normal"], ["Open wide", 2.5, "normal"]]
    end

    def near_buttons(hose)
      return [] unless hose.detachable

      near = state.hose_ends[:"#{hose.id}_near"]
      if near != :kit
        return [
          Button.new(label: "Kit end back on the kit", fields: {kind: "disconnect", hose: hose.id, end: "near"})
        ]
      end

      assembly.test_cocks.keys.map do |cock|
        Button.new(
          label: "Kit end to #{words.control(cock)}",
          fields: {
            kind: "connect",
            hose: hose.id,
            to: cock,
            end: "near"
          }
        )
      end
    end
  end
end
