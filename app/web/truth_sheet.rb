# frozen_string_literal: true

module Web
  # What an instructor sees of a station: its facts and, by each allowed procedure, what a correct tester finds.
  class TruthSheet
    attr_reader :row

    def initialize(row, seed: 1)
      @row = row
      @variant = Nurv::Scenarios::Variant.new(row.station, seed)
    end

    def station = row.station

    def truths = @truths ||= station.procedures.map { |procedure| Nurv::Scenarios::Truth.of(@variant, procedure) }

    def solvable? = truths.any?(&:solvable?)

    def faults = station.faults.map { |item| "#{item.fault.label} (#{item.severity})" }

    def readings(truth)
      truth.procedure.items.values.filter_map do |item|
        value = truth.values[item.id] or next
        number = Nurv::Procedures::Item.number(value)
        limit = item.at_least ? "at least #{item.at_least}" : ""
        [item.label, number ? "#{value} psid" : value, limit, item.result(value)]
      end
    end

    def springs
      @variant.edge_settings.filter_map do |edge, set|
        name = Nurv::Bench::Words::COMPONENTS.fetch(edge)
        ["#{name} spring", "#{set[:spring_psid]} psid"] if set[:spring_psid]
      end
    end

    def line = "#{Nurv::Units.pressure(@variant.pressure_psi)}#{", swings ±#{@variant.swing_psi} psi" if @variant.swing_psi.positive?}"

    def diagnosis(truth)
      return "Nothing wrong" if truth.diagnoses.empty?

      truth.diagnoses.map { |name| Web.diagnosis_words(name) }.join("; ")
    end
  end

  # @param name [String] like "check_valve_1:fouled"
  def self.diagnosis_words(name)
    component, reason = name.split(":").map(&:to_sym)
    return "Nothing wrong" if component == :none

    "#{Nurv::Bench::Words::COMPONENTS.fetch(component, component)}: #{Nurv::Bench::Words::REASONS.fetch(reason, reason)}"
  end
end
