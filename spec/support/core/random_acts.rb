# frozen_string_literal: true

# A hand that does anything a bench allows, at any station and line pressure: what nobody thinks of trying.
class RandomActs
  # Line pressures, psi, that a bench can be worked at.
  PRESSURES_PSI = [20, 30, 60, 90, 120, 150].freeze
  WAITS_S = [0.2, 0.5, 1, 3, 10].freeze
  HEIGHTS_IN = [-20, 0, 3, 20, 60].freeze

  attr_reader :tester, :acts

  # @param stations [Array<Nurv::Stations::Station>]
  # @param drains [Boolean] only cocks and shutoffs are turned, at the highest pressure: volumes are shut in and drawn
  #   on
  def initialize(stations, seed, drains: false)
    @random = Random.new(seed)
    @drains = drains
    chosen = stations[@random.rand(stations.size)]
    line = chosen.data[:line].merge(pressure_psi: drains ? PRESSURES_PSI.last : pick(PRESSURES_PSI))
    @station = Nurv::Stations::Station.new(Nurv::Facts.of(chosen.data.merge(line: line)), SHIPPED)
    @tester = Tester.new(Nurv::Stations::Variant.new(@station, seed + 1))
    @acts = 0
  end

  # @param tries [Integer] acts tried; what the bench refuses does not count
  # @yield after each that was done
  def do_some(tries)
    tries.times do
      act
      @acts += 1
      yield @tester if block_given?
    rescue Nurv::RefusedAction
      nil
    ensure
      @tester.wait(pick(WAITS_S))
    end
    self
  end

  private

  def pick(list) = list[@random.rand(list.size)]

  def act
    return turn if @drains

    hose = pick(@station.kit.hoses.keys).to_s
    case @random.rand(12)
    when 0 then @tester.act(:connect, hose: hose, to: pick(@station.assembly.test_cocks.keys).to_s)
    when 1 then @tester.act(:disconnect, hose: hose)
    when 2 then @tester.act(:level, to: pick(HEIGHTS_IN))
    when 3 then @tester.act(:jot, item: "cv1", value: "8.0")
    else turn
    end
  end

  def turn
    own = @station.assembly.test_cocks.keys + @station.assembly.shutoff_valves * (@drains ? 1 : 3)
    valve = pick(@drains ? own : own + @station.kit.valves.keys)
    most = @station.kit.valves.key?(valve) ? Nurv::Equipment::Kit::TURNS : 1.0
    @tester.turn(valve, pick([0.0, 0.0, most, most * 0.1, most * 0.5]), pick(%w[slow normal fast]))
  end
end
