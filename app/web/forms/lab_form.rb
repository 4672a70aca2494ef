# frozen_string_literal: true

module Web
  # A condition to try in the lab, and what the trainee predicts of it.
  class LabForm < Form
    ASSEMBLIES = {"rp" => "RP", "dc" => "DC", "pvb" => "PVB"}.freeze
    SUPPLIES = {"60" => "Normal, 60 psi", "20" => "Low, 20 psi", "-6" => "Sucking, below atmospheric"}.freeze
    DOWNSTREAMS = {"" => "Nothing pushes back", "40" => "40 psi", "85" => "85 psi, a pump"}.freeze
    STATES = {"tight" => "Tight", "fouled" => "Fouled"}.freeze
    STUCK = {"sound" => "Sound", "stuck" => "Stuck shut"}.freeze
    CHOICES = {
      supply: ["Supply", SUPPLIES],
      downstream: ["Downstream pushes with", DOWNSTREAMS],
      check_valve_1: ["CV1", STATES],
      check_valve_2: ["CV2", STATES],
      relief_valve: ["Relief valve", STUCK],
      air_inlet: ["Air inlet", STUCK]
    }.freeze
    # What can be chosen everywhere.
    LINE = %i[supply downstream].freeze
    RELIEF = ["The relief port", {"dry" => "is dry in the end", "wet" => "goes on discharging"}].freeze
    BELOW = {"below" => "stays below the inlet"}.freeze
    ABOVE = {"above" => "rises to the inlet or above"}.freeze
    PROTECTED = ["The supply", {"yes" => "is protected", "no" => "is not protected"}].freeze
    # What is predicted of each assembly; the same names as an outcome has.
    PREDICTIONS_OF = {
      "rp" => {
        relief: RELIEF,
        zone: ["The zone", {**BELOW, "empty" => "empties, and air comes in", **ABOVE}],
        protected: PROTECTED
      },
      "dc" => {
        zone: ["Between the checks", {**BELOW, "level" => "comes to the inlet's", "above" => "rises above it"}],
        protected: PROTECTED
      },
      "pvb" => {
        inlet: ["The air inlet", {"shut" => "is shut in the end", "open" => "stands open, and air comes in"}],
        protected: PROTECTED
      }
    }.freeze
    PREDICTIONS = PREDICTIONS_OF.fetch("rp")

    # @param catalog [Nurv::Catalog]
    def initialize(raw, catalog)
      super(raw)
      @catalog = catalog
    end

    # @return [String] of ASSEMBLIES
    def assembly = ASSEMBLIES.key?(self[:assembly]) ? self[:assembly] : "rp"

    # @return [Hash{Symbol => Array}] what can be chosen at this assembly
    def choices = CHOICES.slice(*LINE, *@catalog.assemblies.fetch(assembly.to_sym).components)

    def predictions = PREDICTIONS_OF.fetch(assembly)

    def chosen(name) = CHOICES[name][1].then { |choices| choices.key?(self[name]) ? self[name] : choices.keys.first }

    # @return [Boolean] every part of the prediction is made
    def predicted? = predictions.all? { |name, (_, choices)| choices.key?(self[name]) }

    def asked? = !@raw["show"].nil?

    def outcome = @outcome ||= Nurv::Teaching::Lab.new(condition, @catalog).outcome

    # @return [Array<Array(String, String, String, Boolean)>] of what, what happened, what was said, whether they
    #   agree
    def compared
      happened = outcome.words
      predictions.map do |name, (label, choices)|
        [label, choices[happened[name]], choices[self[name]], happened[name] == self[name]]
      end
    end

    private

    def condition
      parts = (choices.keys - LINE).to_h { |name| [name, chosen(name)] }
      downstream = chosen(:downstream)
      Nurv::Teaching::Lab::Condition.new(
        assembly: assembly.to_sym,
        supply_psi: chosen(:supply).to_f,
        downstream_psi: downstream.empty? ? nil : downstream.to_f,
        demand: self[:demand] == "1",
        **parts
      )
    end
  end
end
