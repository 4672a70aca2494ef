# frozen_string_literal: true

module Web
  # Trouble that an instructor puts into a practice bench.
  class InjectForm < Form
    # Trouble with the line, as an instructor chooses it; faults stand in the catalogue.
    WHAT = {
      swing: "The supply swings",
      calm: "The supply stands still",
      demand: "Taps open downstream",
      no_demand: "Taps close downstream"
    }.freeze

    # @return [Hash] kind and fields of the act
    def data =
      {
        kind: "inject",
        **Nurv::Bench::Instructing::USUAL.fetch(self[:what].to_sym) do
          {fault: self[:what], severity: self[:severity]}
        end
      }
  end
end
