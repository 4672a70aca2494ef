# frozen_string_literal: true

# The facts that ship, for every spec.
SHIPPED = Nurv::Catalog.shipped

# A tester's hands for specs: works at a bench, and keeps the log.
class Tester
  attr_reader :variant, :span, :actions, :time_s

  def initialize(variant)
    @variant = variant
    @span = Nurv::Bench::Span.new(variant, Nurv::Bench::Opening.new(variant).state)
    @actions = []
    @time_s = 0.0
  end

  def act(kind, **fields)
    action = Nurv::Bench::Action.new(kind: kind, at_ms: (@time_s * 1000).round, id: "a#{@actions.size}", **fields)
    @span = @span.after(action)
    @actions << action
    self
  end

  def turn(valve, to, speed = "normal") = act(:turn, valve: valve.to_s, to: to, speed: speed)

  def connect(**ends)
    ends.each { |hose, cock| act(:connect, hose: hose.to_s, to: cock.to_s) }
    self
  end

  def wait(seconds)
    @time_s = (@time_s + seconds).round(3)
    self
  end

  def needle = span.needle_at(time_s)

  def flow(edge) = span.flow_at(time_s, edge)

  def pressure(node) = span.pressure_at(time_s, node)

  # First moment within so many seconds at which water leaves the relief port.
  def discharge(within) =
    span
      .trajectory
      .first_time(time_s, time_s + within) { |time| Nurv::Expert::Eyes.happens?(span, :relief_valve, time) }

  def log = Nurv::Bench::Log.new(actions)

  # High hose on TC2, low on TC3, both bled, SOV2 closed, bleeds closed: ready to read an RP with two hoses.
  def two_hoses
    connect(high: :test_cock_2, low: :test_cock_3)
    turn(:test_cock_3, 1.0)
      .wait(1)
      .turn(:low_bleed, 2.5)
      .wait(1)
      .turn(:test_cock_2, 1.0)
      .wait(1)
      .turn(:high_bleed, 2.5)
      .wait(12)
    turn(:shutoff_valve_2, 0.0).wait(3).turn(:high_bleed, 0.0).wait(2).turn(:low_bleed, 0.0, "slow").wait(8)
  end

  # The same two hoses with all their air in them.
  def two_unbled_hoses
    connect(high: :test_cock_2, low: :test_cock_3)
    turn(:test_cock_3, 1.0).wait(1).turn(:test_cock_2, 1.0).wait(1).turn(:shutoff_valve_2, 0.0)
  end

  def bypass_on_test_cock_4
    turn(:high_control, 1.0).wait(2).turn(:bypass_control, 2.5).wait(8).turn(:bypass_control, 0.0).wait(1)
    connect(bypass: :test_cock_4).turn(:test_cock_4, 1.0).wait(2)
    turn(:low_bleed, 1.0).wait(2).turn(:low_bleed, 0.0, "slow").wait(5)
  end
end

# Builds stations and testers in specs.
module BenchWork
  USUAL = {
    id: "bench",
    title: "Bench",
    assembly: "rp",
    site: "cider_works",
    line: {
      pressure_psi: 60
    },
    plate: {
      make: "Karrow & Finch",
      model: "Breakwater 1",
      size: "1 in",
      serial: "KF-1",
      type: "RP"
    },
    kit: {
      id: "five_valve",
      serial: "NK-1",
      checked_on: "2026-03-02"
    },
    procedures: ["r1"]
  }.freeze

  # @param faults [Hash{Symbol => Symbol}] fault => severity
  def station(faults: {}, **changes)
    list = faults.map { |id, severity| {id: id.to_s, severity: severity.to_s} }
    Nurv::Stations::Station.new(Nurv::Facts.of({**USUAL, faults: list, **changes}), SHIPPED)
  end

  def variant(seed: 1, **changes) = Nurv::Stations::Variant.new(station(**changes), seed)

  def tester(**changes) = Tester.new(variant(**changes))

  def demo_station(id) = SHIPPED.demo_stations.find { |station| station.id == id }

  # Acts of an expert's run, to be bent into a mistake.
  def expert_actions(variant, procedure = variant.station.procedures.first)
    Nurv::Expert::Truth.of(variant, procedure).run.log.actions.map(&:to_h)
  end

  def grade(variant, actions, **options)
    log = Nurv::Bench::Log.new(actions.map { |data| Nurv::Bench::Action.new(data) })
    Nurv::Grading::Grader.grade(variant, log, **options)
  end
end
