# frozen_string_literal: true

module Nurv
  module Teaching
    # Principles of operation of an RP: a condition of supply, downstream and checks is put to the same network that
    # every test runs on, and what comes of it is read off. No case is treated on its own.
    class Lab
      Condition =
        Struct.new(
          :supply_psi,
          :downstream_psi,
          :demand,
          :check_valve_1,
          :check_valve_2,
          :relief_valve,
          keyword_init: true
        )
      # What came of it. Pressures psi, flows mL/s; `crossed_ml` is downstream water that passed check valve 1 towards
      # the supply.
      Outcome =
        Struct.new(
          :inlet_psi,
          :zone_psi,
          :outlet_psi,
          :check_valve_1_ml_s,
          :check_valve_2_ml_s,
          :relief_ml_s,
          :air_in_zone,
          :crossed_ml,
          :relief_ran,
          keyword_init: true
        ) do
          # @return [Boolean] next to no downstream water passed check valve 1; the edge is what a rounding error moves
          def protected? = crossed_ml < 0.5

          # @return [Symbol] what an eye sees at the relief port, as Bench::Flow says it
          def relief = Bench::Flow.seen(relief_ml_s)

          # The outcome as one would predict it.
          def words
            zone =
              if air_in_zone
                "empty"
              else
                (zone_psi < inlet_psi - 0.5) ? "below" : "above"
              end
            {relief: (relief == :dry) ? "dry" : "wet", zone: zone, protected: protected? ? "yes" : "no"}
          end

          # @return [Symbol] :shut, :forward or :backward
          def check_valve_1 = way(check_valve_1_ml_s)

          # @return [Symbol] :shut, :forward or :backward
          def check_valve_2 = way(check_valve_2_ml_s)

          private

          def way(flow)
            return :shut if flow.abs < 0.02

            flow.positive? ? :forward : :backward
          end
        end

      FIRST_PSI = 60.0
      SECONDS = 90.0

      # @param condition [Condition] supply may be below zero: back-siphonage; downstream nil: nothing pushes back
      # @param catalog [Catalog]
      def initialize(condition, catalog)
        @condition = condition
        @variant = Stations::Variant.new(station(catalog), 1)
      end

      # @return [Outcome]
      def outcome
        start = Bench::Opening.new(@variant).state
        ramp = Hydraulics::Ramp.new(FIRST_PSI, @condition.supply_psi.to_f, 0.0, 3.0)
        @span = Bench::Span.new(@variant, start.with(controls: start.controls.merge(supply_pressure: ramp).freeze))
        @relief_ran = false
        @relief_ml = 0.0
        @span.trajectory.extend_to(SECONDS)
        @span.trajectory.steps.each { |step| watch_relief(step) }
        read
      end

      private

      def station(catalog)
        faults =
          {check_valve_1: "check_valve_1_fouled", check_valve_2: "check_valve_2_fouled"}.filter_map do |part, fault|
            {id: fault, severity: "moderate"} if @condition[part].to_s == "fouled"
          end
        faults << {id: "relief_valve_stuck", severity: "gross"} if @condition.relief_valve.to_s == "stuck"
        line = {
          pressure_psi: FIRST_PSI,
          demand: @condition.demand ? 0.1 : 0.0,
          back_pressure_psi: @condition.downstream_psi
        }.compact
        Stations::Station.new(
          Facts.of(
            id: "lab",
            title: "Lab",
            assembly: "rp",
            site: "cider_works",
            plate: {},
            line: line,
            kit: {
              id: "five_valve"
            },
            faults: faults,
            procedures: []
          ),
          catalog
        )
      end

      # What ran out of the relief port: at all, and of late.
      def watch_relief(step)
        flow = @span.trajectory.flows_at(step.time_s + step.dt / 2.0, %i[relief_valve])[:relief_valve]
        @relief_ran ||= flow >= Bench::Flow::LEAST[:drip]
        @relief_ml += flow * [[step.end_s, SECONDS].min - [step.time_s, SECONDS - 10.0].max, 0.0].max
      end

      def read
        flows = @span.trajectory.flows_at(SECONDS, %i[check_valve_1 check_valve_2 relief_valve])
        water = @span.water_at(SECONDS)
        Outcome.new(
          inlet_psi: pressure(:inlet),
          zone_psi: pressure(:zone),
          outlet_psi: pressure(:outlet),
          check_valve_1_ml_s: flows[:check_valve_1],
          check_valve_2_ml_s: flows[:check_valve_2],
          relief_ml_s: @relief_ml / 10.0,
          air_in_zone: water.air_present[@span.network.index[:zone]],
          crossed_ml: @span.tracer.gone_back_ml(water.shares).last,
          relief_ran: @relief_ran
        )
      end

      def pressure(node) = @span.pressure_at(SECONDS, node)
    end
  end
end
