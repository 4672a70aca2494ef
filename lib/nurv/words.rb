# frozen_string_literal: true

module Nurv
  # What the things of the trade are called on screens and in sentences: its short labels.
  module Words
    CONTROLS = {
      shutoff_valve_1: "SOV1",
      shutoff_valve_2: "SOV2",
      test_cock_1: "TC1",
      test_cock_2: "TC2",
      test_cock_3: "TC3",
      test_cock_4: "TC4",
      high_bleed: "High bleed",
      low_bleed: "Low bleed",
      high_control: "High control",
      low_control: "Low control",
      bypass_control: "Bypass control",
      vent_control: "Vent control",
      tee_needle: "Tee needle",
      downstream_tap: "Tap",
      supply_pressure: "Supply",
      valve_a: "Valve A",
      valve_b: "Valve B"
    }.freeze
    HOSES = {
      high: "high hose",
      low: "low hose",
      bypass: "bypass hose",
      bypass_near: "bypass hose",
      vent: "vent hose"
    }.freeze
    FITTINGS = {sight_tube: "sight tube", bleed_off_tee: "bleed-off tee", line_gauge: "line gauge"}.freeze
    COMPONENTS = {
      check_valve_1: "CV1",
      check_valve_2: "CV2",
      relief_valve: "Relief valve",
      air_inlet: "Air inlet",
      shutoff_valve_1: "SOV1",
      shutoff_valve_2: "SOV2",
      test_cock_1: "TC1",
      test_cock_2: "TC2",
      test_cock_3: "TC3",
      test_cock_4: "TC4",
      supply: "Supply",
      none: "None",
      kit: "Test kit",
      site: "Site"
    }.freeze
    REASONS = {
      fouled: "fouled, does not close tight",
      weak_spring: "weak spring, below the limit",
      opens_low: "opens low",
      stuck: "did not open: stuck, or sensing line plugged",
      seat_fouled: "seat fouled, discharges at rest",
      opens_high: "opens high, small buffer",
      leaks: "leaks when closed",
      leaks_with_demand: "leaks, with demand downstream",
      opens_partly: "opens only partly",
      fluctuates: "pressure fluctuates",
      back_pressure: "leaks, and pressure comes back from downstream",
      blocked: "partly blocked",
      must_not_test: "the test must not go on",
      healthy: "nothing wrong"
    }.freeze
    # Things at every bench that one can look at; a site adds its own.
    LOOKS = {
      plate: "Name plate",
      arrow: "Flow arrow and valves",
      relief_port: "Relief port",
      test_cocks: "Test cocks and caps",
      kit_label: "Kit label",
      gauge_zero: "Gauge at rest",
      hoses: "Hoses and washers",
      surroundings: "Surroundings",
      upstream_piping: "Piping before the assembly",
      leaks: "All joints, for leaks",
      meter: "Water meter"
    }.freeze
    TOPICS = {
      shutdown: "I need to shut the water off here for about 20 minutes. May I?",
      water_on: "I am done. The water is about to come back on.",
      result: "Here is the result of the test."
    }.freeze

    module_function

    # @param id [Symbol] of a valve, cock or tap
    # @return [String] like "SOV1"; the id in words where it has no label
    def control(id) = CONTROLS.fetch(id, id.to_s.tr("_", " "))

    # @param id [Symbol] of a part of an assembly
    # @return [String] like "CV1"
    def part(id) = COMPONENTS.fetch(id, id.to_s.tr("_", " "))

    # @param id [Symbol] of a hose or an end of one
    # @return [String] like "high hose"
    def hose(id) = HOSES.fetch(id, id.to_s.tr("_", " "))

    # @param id [Symbol]
    # @return [String] like "sight tube"
    def fitting(id) = FITTINGS.fetch(id, id.to_s.tr("_", " "))
  end
end
