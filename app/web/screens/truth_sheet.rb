# frozen_string_literal: true

module Web
  # What an instructor sees of a station: its facts and, by each allowed procedure, what a correct tester finds.
  class TruthSheet
    attr_reader :station, :seed

    # @param station [Nurv::Stations::Station]
    # @param adopted [Proc] procedure => as it is adopted here
    def initialize(station, seed: 1, &adopted)
      @station = station
      @adopted = adopted || :itself.to_proc
      @seed = seed
      @variant = Nurv::Stations::Variant.new(station, seed)
    end

    def words = station.catalog.words

    def truths = @truths ||= station.procedures.map { |item| Nurv::Expert::Truth.of(@variant, @adopted.call(item)) }

    # @return [String, nil] what an instructor should know before this is used
    def warning
      return if truths.any?(&:solvable?)
      if faults_drawn.size < 2
        return "No procedure allowed here finds what is wrong. Allow another one, or change the fault."
      end

      "The two faults hide each other: no procedure allowed here finds both before one of them is mended."
    end

    def faults_drawn = @variant.station.faults

    def drawn? = station.data != @variant.station.data

    def faults = faults_drawn.map { |item| "#{item.fault.label} (#{item.severity})" } + station.findings.map(&:label)

    def readings(truth)
      truth.procedure.items.values.filter_map do |item|
        value = truth.values[item.id] or next
        number = Nurv::Procedures::Item.number(value)
        [
          item.label,
          number ? "#{value} #{item.unit}" : value,
          item.at_least ? "at least #{item.at_least}" : "",
          item.result(value)
        ]
      end
    end

    def mending(truth) = words.repairs(truth.mending, truth.station.catalog.repairs)

    def springs
      @variant.edge_settings.filter_map do |edge, set|
        name = words.part(edge)
        ["#{name} spring", "#{set[:spring_psid]} psid"] if set[:spring_psid]
      end
    end

    # @return [Array<String>] what a tester has to deal with besides
    def besides
      now = @variant.station
      list = now.weeping.map { |valve| "#{words.control(valve)} weeps until it is tightened" }
      list += now.debris.map { |cock| "debris in #{words.control(cock)}" }
      list << "caps on the test cocks" if now.capped?
      list << "hoses need adapters" if now.adapters?
      list + found(now.kit_state)
    end

    def line =
      Nurv::Units.pressure(@variant.pressure_psi) +
        (@variant.swing_psi.positive? ? ", swings ±#{@variant.swing_psi} psi" : "")

    def diagnosis(truth)
      return "Nothing wrong" if truth.diagnoses.empty?

      truth.diagnoses.map { |name| Web.diagnosis_words(name, words) }.join("; ")
    end

    # The bench as a tester finds it.
    def scene
      attempt = Scene.new(id: 0, station: @variant.station)
      BenchScreen.new(
        attempt,
        Nurv::Bench::Span.new(@variant, Nurv::Bench::Opening.new(@variant).state),
        now_ms: 0,
        seq: 0,
        until_ms: 500
      )
    end

    # Stands in for an attempt where there is none: a bench nobody works at.
    Scene =
      Struct.new(:id, :station, keyword_init: true) do
        def mode = "practice"

        def exam? = false

        def paused? = false

        def grading_policy = station.catalog.policies.fetch(:standard)
      end

    private

    FOUND = {"standby" => "kit on standby", "switched_off" => "kit switched off"}.freeze
    private_constant :FOUND

    # How a digital kit is found.
    def found(kit)
      return [] unless kit[:face] == "digital"

      stored = kit[:stored].to_h.values.map { |psid| Nurv::Units.number(psid) }
      [
        FOUND[kit[:power]],
        ("kit not to be read without its light" if kit[:in_the_dark]),
        ("stored in the kit before: #{stored.join(", ")}" if stored.any?)
      ].compact
    end
  end

  # @param name [String] like "check_valve_1:fouled"
  # @param words [Nurv::Words]
  def self.diagnosis_words(name, words)
    component, reason = name.split(":")
    return "Nothing wrong" if component == "none"

    "#{words.part(component)}: #{words.reason(reason)}"
  end
end
