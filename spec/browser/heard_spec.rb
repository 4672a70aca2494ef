# frozen_string_literal: true

require "support/browser"
require "support/heard"

RSpec.describe "A bench that is heard and not seen", :web, :browser, clock: :set do
  include Heard

  words = SHIPPED.words

  # What somebody who hears the page does for an act of a log.
  define_method(:by_ear) do |action|
    in_hand = "In hand"
    case action.kind
    when :turn
      press_heard("button", /\A#{control_name(action[:valve])}, /)
      turn_heard(action, in_hand)
    when :connect, :disconnect
      press_heard("button", /\A#{action[:hose].capitalize} hose, /)
      label = action[:to] ? "Put on #{words.control(action.named(:to))}" : "Take off"
      acknowledged { press_heard("button", label, inside: in_hand) }
    when :cap, :adapt
      press_heard("button", /\A#{words.control(action.named(:at))}, /)
      acknowledged { press_heard("button", "#{{cap: "Cap", adapt: "Adapter"}[action.kind]} #{action[:to]}") }
    when :tighten
      press_heard("button", /\A#{words.control(action.named(:valve))}, /)
      acknowledged { press_heard("button", "Tighten", inside: in_hand) }
    when :power, :light
      press_heard("button", "Gauge of the kit")
      acknowledged { press_heard("button", "#{{power: "Switch", light: "Light"}[action.kind]} #{action[:to]}") }
    when :forget
      press_heard("tab", "Notebook")
      acknowledged { press_heard("button", "Clear all that is stored") }
    when :watch
      acknowledged { press_heard("button", (action[:at] == "gauge") ? "Gauge" : "Relief port", inside: "Eyes") }
    when :look
      press_heard("tab", "Look around")
      again = /\A(Look again: )?#{Regexp.escape(words.look(action[:at]))}\z/
      acknowledged { press_heard("button", again, inside: "Look around") }
    when :tell
      press_heard("tab", "People")
      acknowledged { press_heard("button", /#{Regexp.escape(words.topic(action[:topic]))}/, inside: "People") }
    when :jot
      press_heard("tab", "Notebook")
      write_heard("combobox", "What you read", item_name(action[:item]))
      write_heard("textbox", "Value", action[:value])
      acknowledged { press_heard("button", "Jot", inside: "Notebook") }
    when :fill
      fill_heard(action)
    end
  end

  def control_name(valve)
    kit = station.kit.valves[valve.to_sym]
    kit ? kit.label : SHIPPED.words.control(valve.to_sym)
  end

  def item_name(id) = station.procedures.first.items.fetch(id.to_sym).label

  def turn_heard(action, in_hand)
    to = action[:to]
    slowly = (action[:speed] == "slow") ? " slowly" : ""
    whole = station.kit.valves.key?(action[:valve].to_sym) ? [2.5, "Open wide"] : [1.0, "Open#{slowly}"]
    name = {0.0 => "Close#{slowly}", whole[0] => whole[1]}[to]
    return acknowledged { press_heard("button", name, inside: in_hand) } if name

    write_heard("textbox", "or to", to.to_s, inside: in_hand)
    acknowledged { press_heard("button", "Turn", inside: in_hand) }
  end

  # Every field and every choice of the report is told by a name of its own.
  def fill_heard(action)
    press_heard("button", "Report") unless heard.any? { |thing| thing.name == "Field report" }
    field = find("label[for='f_#{action[:field]}']").text
    # One that offers words besides is told as a choice.
    typed = find("#f_#{action[:field]}").tag_name == "input"
    return write_report(/\A(textbox|combobox)\z/, field, action[:value]) if typed

    option = find("#f_#{action[:field]} option", visible: :all, wait: 5) { |one| one.value == action[:value] }
    write_report("combobox", field, option.text(:all))
  end

  def write_report(role, name, value) =
    acknowledged { write_heard(role, name, value, inside: "Field report") }

  let(:attempt) { at_practice(station: :rp_vault) }
  let(:station) { attempt.station }

  it "takes a whole R1 by the names of things, with a kit to be woken, caps, adapters and a shutoff to tighten" do
    log = Nurv::Expert::Truth.of(attempt.variant, station.procedures.first).run.log
    began_ms = Clock.wall_ms
    log.each do |action|
      let_go_by(action.at_ms - (Clock.wall_ms - began_ms), looking: action.kind == :jot)
      if action.kind == :jot && action[:item].start_with?("check_valve_1")
        expect(needle_heard).to start_with(action[:value])
      end
      (action.kind == :submit) ? accept_confirm { press_heard("button", "Hand in") } : by_ear(action)
    end
    expect(page).to have_css(".score")
    expect(find(".score").text).to eq("100.0")
    expect(stores.attempts.log(attempt).map(&:kind).tally).to eq(log.map(&:kind).tally)
  end

  it "holds a reading for eyes that are elsewhere, and tells it when they are back" do
    press = ->(name, inside = nil) { acknowledged { press_heard("button", name, inside: inside) } }
    attempt
    expect(heard.map(&:name)).to include("The gauge shows nothing.")
    press_heard("button", "Gauge of the kit")
    press.call("Switch on", "In hand")
    pass 7
    press.call("Light on", "In hand")
    press.call("Relief port", "Eyes")
    press.call("Hold what the gauge shows")
    press_heard("tab", "Notebook")
    write_heard("combobox", "Memory", "Relief valve opening point")
    press.call("Store", "Stored in the gauge")
    jots = -> { heard.map(&:name).grep(/\AJot \w/) }
    expect(jots.call).to eq([])
    press.call("Gauge", "Eyes")
    expect(jots.call).to eq(["Jot CV1 apparent, 6.3", "Jot Relief valve opening point, 0.0"])
    expect([axe_violations, too_small_for_fingers]).to eq([[], []])
    press.call("Jot Relief valve opening point, 0.0")
    press.call("Clear all that is stored")
    expect(jots.call).to eq([])
    expect(stores.attempts.log(attempt).map(&:kind)).to eq(%i[power light watch capture keep watch jot forget])
  end
end
