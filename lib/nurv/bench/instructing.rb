# frozen_string_literal: true

module Nurv
  module Bench
    # The part of Hands that is an instructor's: trouble put into a running bench, and marks beside a real one.
    module Instructing
      # How a proctor may mark a step.
      MARKS = %i[done wrong out_of_order].freeze
      # How far trouble with the line may go: psi either way, and the share of full demand.
      RANGES = {swing_psi: 0..10, demand: 0..1}.freeze
      # The trouble an instructor usually makes with the line.
      USUAL = {
        swing: {
          swing_psi: 1.5
        },
        calm: {
          swing_psi: 0.0
        },
        demand: {
          demand: 0.4
        },
        no_demand: {
          demand: 0.0
        }
      }.freeze

      private

      # An instructor's trouble: a fault from now on, a supply that swings, or taps opened downstream.
      def inject(action)
        change = {kind: "inject", **action.fields.slice(:fault, :severity, :swing_psi, :demand)}
        fault = @station.catalog.faults[action.named(:fault)] if action[:fault]
        if action[:fault] && !fault&.applies_to?(@station.assembly.id)
          raise RefusedAction.new(:fault_unfit, typed: action[:fault])
        end
        graded = fault.nil? || Equipment::Fault::SEVERITIES.include?(action.named(:severity))
        if change.size == 1 || !graded
          raise RefusedAction.new(:which_trouble)
        end
        RANGES.each do |name, range|
          next if change[name].nil?
          unless change[name].is_a?(Numeric) && range.cover?(change[name])
            raise RefusedAction.new(:trouble_out_of_range, trouble: name, least: range.min, most: range.max)
          end
        end
        demand = action[:demand] || fault&.demand
        controls =
          (
            if demand
              @state
                .controls
                .merge(
                  demand: Hydraulics::Ramp.new(@state.position(:demand, @time_s), demand.to_f, @time_s, @time_s + 1.0)
                )
                .freeze
            else
              @state.controls
            end
          )
        @state.with(water: water_now, controls: controls, changes: (@state.changes + [change]).freeze)
      end

      # A proctor's mark beside a real bench leaves the simulated one alone.
      def mark(action)
        unless MARKS.include?(action.named(:as))
          raise RefusedAction.new(:mark_unknown, typed: action[:as].inspect)
        end
        own = action[:step].to_s.start_with?(Procedures::Adoption::OWN)
        unless own || @station.procedures.any? { |procedure| procedure.step(action.named(:step)) }
          raise RefusedAction.new(:no_such_step, typed: action[:step])
        end

        @state
      end
    end
  end
end
