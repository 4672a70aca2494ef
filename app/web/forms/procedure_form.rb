# frozen_string_literal: true

module Web
  # What an instructor may change in a procedure: its label, limits and points.
  class ProcedureForm < Form
    # @param current [Hash] the overlay as it is now
    def self.of(procedure, current)
      raw = {"label" => current.fetch(:label, procedure.label)}
      raw["diagnosis_only"] = "1" if current.fetch(:diagnosis_only, procedure.diagnosis_only?)
      procedure.usual_limits.each do |item, limit|
        raw["limit_#{item}"] = (current.dig(:limits, item.to_sym) || limit).to_s
      end
      procedure.steps.each do |step|
        raw["points_#{step.id}"] = (current.dig(:points, step.id) || step.points).to_s
        raw["critical_#{step.id}"] = "1" if current.fetch(:critical, {}).fetch(step.id, step.critical?)
      end
      new(raw, procedure)
    end

    def initialize(raw, procedure)
      super(raw)
      @procedure = procedure
    end

    # @return [Hash] only what differs from the shipped procedure
    def overlay
      {
        label: (self[:label] == @procedure.label) ? nil : self[:label],
        diagnosis_only: (diagnosis_only? == @procedure.diagnosis_only?) ? nil : diagnosis_only?,
        limits:
          @procedure
            .usual_limits
            .to_h { |item, limit| [item, number(:"limit_#{item}").to_f] }
            .reject { |item, value| value == @procedure.usual_limits[item] },
        points:
          @procedure
            .steps
            .to_h { |step| [step.id, self["points_#{step.id}"].to_i] }
            .reject { |id, value| value == @procedure.step(id).points },
        critical:
          @procedure
            .steps
            .to_h { |step| [step.id, self["critical_#{step.id}"] == "1"] }
            .reject { |id, value| value == @procedure.step(id).critical? }
      }.reject { |_, value| value.nil? || value.respond_to?(:empty?) && value.empty? }
    end

    private

    def diagnosis_only? = self[:diagnosis_only] == "1"

    def check
      need(:label, "Give the procedure the name your authority has for it.", most: 80)
      @procedure.usual_limits.each_key do |item|
        decimal(:"limit_#{item}", 0.1..15, "Enter the limit in psid, like 5.0.")
      end
      @procedure.steps.each { |step| whole(:"points_#{step.id}", 0..50, "Enter points from 0 to 50.") }
    end
  end
end
