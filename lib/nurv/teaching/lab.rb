# frozen_string_literal: true

module Nurv
  module Teaching
    # Principles of operation: a condition of supply, downstream and checks is put to the same network that
    # every test runs on, and what comes of it is read off. No case is treated on its own.
    class Lab
      # assembly [Symbol, nil] an RP, if left out; relief_valve and air_inlet: "sound" or "stuck"
      Condition =
        Struct.new(
          :assembly,
          :supply_psi,
          :downstream_psi,
          :demand,
          :check_valve_1,
          :check_valve_2,
          :relief_valve,
          :air_inlet,
          keyword_init: true
        )
      # Where each kind stands, and the kit beside it; the middle is the chamber behind check valve 1. What is fouled is
      # so hard, and is looked at for so long, s: with nothing that opens to air it takes longer to come about.
      PLACES = {
        rp: {site: "cider_works", kit: "five_valve", middle: :zone, fouled: "moderate", seconds: 90.0},
        dc: {site: "inn", kit: "five_valve", middle: :zone, fouled: "gross", seconds: 300.0},
        pvb: {site: "hatchery", kit: "two_valve_bleed", middle: :body, fouled: "gross", seconds: 300.0}
      }.freeze
      # Two chambers this near stand alike, psi.
      ALIKE_PSI = 0.5
      # An air inlet this far open lets air in.
      OPEN = 0.2
      # What came of it. Pressures psi, flows mL/s, nil of what an assembly does not have; `zone_psi` is that of the
      # chamber behind check valve 1, `air_inlet` 0..1; `crossed_ml` is downstream water that passed check valve 1
      # towards the supply.
      Outcome =
        Struct.new(
          :assembly,
          :inlet_psi,
          :zone_psi,
          :outlet_psi,
          :check_valve_1_ml_s,
          :check_valve_2_ml_s,
          :relief_ml_s,
          :air_inlet,
          :air_in_zone,
          :air_past_1,
          :crossed_ml,
          :relief_ran,
          keyword_init: true
        ) do
          # @return [Float] for how long it was looked at
          def seconds = PLACES.fetch(assembly)[:seconds]

          # @return [Boolean] next to no downstream water passed check valve 1; the edge is what a rounding error moves.
          #   With an air inlet, that air stands behind the check in the end, or that it holds: what a line's own
          #   pressure pushes back before is soon over
          def protected? = air_inlet ? broken? : crossed_ml < 0.5

          # @return [Symbol, nil] what an eye sees at the relief port, as Bench::Flow says it
          def relief = relief_ml_s && Bench::Flow.seen(relief_ml_s)

          # The outcome as one would predict it.
          #
          # @return [Hash{Symbol => String}] for what there is at the assembly: relief, inlet, zone, protected
          def words
            {
              relief: relief && ((relief == :dry) ? "dry" : "wet"),
              inlet: air_inlet && ((air_inlet > OPEN) ? "open" : "shut"),
              zone: air_inlet ? nil : zone_word,
              protected: protected? ? "yes" : "no"
            }.compact
          end

          # @return [Symbol, nil] :shut, :forward or :backward, as water goes; :air where air alone goes back
          def check_valve_1 = air_past_1 ? :air : way(check_valve_1_ml_s)

          # @return [Symbol, nil] :shut, :forward or :backward
          def check_valve_2 = way(check_valve_2_ml_s)

          private

          def broken?
            return true if air_in_zone || check_valve_1 == :forward
            return false if check_valve_1 == :backward

            inlet_psi >= 0.0 || zone_psi > inlet_psi + ALIKE_PSI
          end

          def zone_word
            return "empty" if air_in_zone

            return "below" if zone_psi < inlet_psi - ALIKE_PSI

            (assembly == :dc && zone_psi < inlet_psi + ALIKE_PSI) ? "level" : "above"
          end

          def way(flow)
            return if flow.nil?
            return :shut if flow.abs < 0.02

            flow.positive? ? :forward : :backward
          end
        end

      FIRST_PSI = 60.0

      # @param condition [Condition] supply may be below zero: back-siphonage; downstream nil: nothing pushes back
      # @param catalog [Catalog]
      def initialize(condition, catalog)
        @condition = condition
        @kind = (condition.assembly || :rp).to_sym
        @seconds = PLACES.fetch(@kind)[:seconds]
        @variant = Stations::Variant.new(station(catalog), 1)
      end

      # @return [Outcome]
      def outcome
        start = Bench::Opening.new(@variant).state
        ramp = Hydraulics::Ramp.new(FIRST_PSI, @condition.supply_psi.to_f, 0.0, 3.0)
        @span = Bench::Span.new(@variant, start.with(controls: start.controls.merge(supply_pressure: ramp).freeze))
        @relief_ran = false
        @relief_ml = 0.0
        @span.trajectory.extend_to(@seconds)
        @span.trajectory.steps.each { |step| watch_relief(step) }
        read
      end

      private

      def station(catalog)
        faults =
          {check_valve_1: "check_valve_1_fouled", check_valve_2: "check_valve_2_fouled"}.filter_map do |part, fault|
            {id: fault, severity: PLACES.fetch(@kind)[:fouled]} if @condition[part].to_s == "fouled"
          end
        %w[relief_valve air_inlet].each do |part|
          faults << {id: "#{part}_stuck", severity: "gross"} if @condition[part].to_s == "stuck"
        end
        place = PLACES.fetch(@kind)
        line = {
          pressure_psi: FIRST_PSI,
          demand: @condition.demand ? 0.1 : 0.0,
          back_pressure_psi: @condition.downstream_psi
        }.compact
        Stations::Station.new(
          Facts.of(
            id: "lab",
            title: "Lab",
            assembly: @kind.to_s,
            site: place[:site],
            plate: {},
            line: line,
            kit: {
              id: place[:kit]
            },
            faults: faults,
            procedures: []
          ),
          catalog
        )
      end

      # What ran out of the relief port: at all, and of late.
      def watch_relief(step)
        return unless @span.network.relief_valve

        flow = @span.trajectory.flows_at(step.time_s + step.dt / 2.0, %i[relief_valve])[:relief_valve]
        @relief_ran ||= flow >= Bench::Flow::LEAST[:drip]
        @relief_ml += flow * [[step.end_s, @seconds].min - [step.time_s, @seconds - 10.0].max, 0.0].max
      end

      def read
        network = @span.network
        checks = %i[check_valve_1 check_valve_2].select { |id| network.edge(id) }
        flows = @span.trajectory.flows_at(@seconds, checks)
        water = @span.water_at(@seconds)
        middle = PLACES.fetch(@kind)[:middle]
        Outcome.new(
          assembly: @kind,
          inlet_psi: pressure(:inlet),
          zone_psi: pressure(middle),
          outlet_psi: network.index[:outlet] && pressure(:outlet),
          check_valve_1_ml_s: flows[:check_valve_1],
          check_valve_2_ml_s: flows[:check_valve_2],
          relief_ml_s: network.relief_valve && @relief_ml / 10.0,
          air_inlet: network.air_inlet && @span.trajectory.air_inlet_at(@seconds),
          air_in_zone: water.air_present[network.index[middle]],
          air_past_1: air_past_1?(water.air_present[network.index[middle]]),
          crossed_ml: @span.tracer.gone_back_ml(water.shares).last,
          relief_ran: @relief_ran
        )
      end

      # Air behind a first check that leaks goes where the supply draws it; water no longer stands there.
      def air_past_1?(air)
        middle = PLACES.fetch(@kind)[:middle]
        leaks = @variant.setting(:check_valve_1, :leak_k, 0.0).positive?
        air && leaks && pressure(:inlet) < pressure(middle) - ALIKE_PSI
      end

      def pressure(node) = @span.pressure_at(@seconds, node)
    end
  end
end
