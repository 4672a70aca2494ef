# frozen_string_literal: true

module Web
  # Trouble that an instructor puts into a practice bench.
  class InjectForm < Form
    # @return [Hash] kind and fields of the act
    def data
      case self[:what]
      when "swing" then {kind: "inject", swing_psi: 1.5}
      when "calm" then {kind: "inject", swing_psi: 0.0}
      when "demand" then {kind: "inject", demand: 0.4}
      when "no_demand" then {kind: "inject", demand: 0.0}
      else {kind: "inject", fault: self[:what], severity: self[:severity]}
      end
    end
  end
end
