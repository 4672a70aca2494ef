# frozen_string_literal: true

module Web
  # A condition to try in the lab, and what the trainee predicts of it.
  class LabForm < Form
    SUPPLIES = {"60" => "Normal, 60 psi", "20" => "Low, 20 psi", "-6" => "Sucking, below atmospheric"}.freeze
    DOWNSTREAMS = {"" => "Nothing pushes back", "40" => "40 psi", "85" => "85 psi, a pump"}.freeze
    STATES = {"tight" => "Tight", "fouled" => "Fouled"}.freeze
    RELIEFS = {"sound" => "Sound", "stuck" => "Stuck shut"}.freeze
    CHOICES = {
      supply: ["Supply", SUPPLIES],
      downstream: ["Downstream pushes with", DOWNSTREAMS],
      check_valve_1: ["CV1", STATES],
      check_valve_2: ["CV2", STATES],
      relief_valve: ["Relief valve", RELIEFS]
    }.freeze
    PREDICTIONS = {
      relief: ["The relief port", {"dry" => "is dry in the end", "wet" => "goes on discharging"}],
      zone: [
        "The zone",
        {
          "below" => "stays below the inlet",
          "empty" => "empties, and air comes in",
          "above" => "rises to the inlet or above"
        }
      ],
      protected: ["The supply", {"yes" => "is protected", "no" => "is not protected"}]
    }.freeze

    # @param catalog [Nurv::Catalog]
    def initialize(raw, catalog)
      super(raw)
      @catalog = catalog
    end

    def chosen(name) = CHOICES[name][1].then { |choices| choices.key?(self[name]) ? self[name] : choices.keys.first }

    # @return [Boolean] every part of the prediction is made
    def predicted? = PREDICTIONS.all? { |name, (_, choices)| choices.key?(self[name]) }

    def asked? = !@raw["show"].nil?

    def outcome
      downstream = chosen(:downstream)
      @outcome ||=
        Nurv::Teaching::Lab.new(
          Nurv::Teaching::Lab::Condition.new(
            supply_psi: chosen(:supply).to_f,
            downstream_psi: downstream.empty? ? nil : downstream.to_f,
            demand: self[:demand] == "1",
            check_valve_1: chosen(:check_valve_1),
            check_valve_2: chosen(:check_valve_2),
            relief_valve: chosen(:relief_valve)
          ),
          @catalog
        ).outcome
    end

    # @return [Array<Array(String, String, String, Boolean)>] of what, what happened, what was said, whether they
    #   agree
    def compared
      happened = outcome.words
      PREDICTIONS.map do |name, (label, choices)|
        [label, choices[happened[name]], choices[self[name]], happened[name] == self[name]]
      end
    end
  end
end
