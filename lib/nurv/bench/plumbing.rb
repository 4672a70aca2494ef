# frozen_string_literal: true

module Nurv
  module Bench
    # Joins assembly, kit, hoses and fittings into the network that the solver runs, for one way of connecting them.
    class Plumbing
      HOSE_K = 14.0
      # A hose that debris got into: a needle that creeps.
      CLOGGED_K = 0.04
      SUPPLY_K = 170.0
      BACK_PRESSURE_K = 60.0
      DEMAND_K = 50.0
      BRIM_K = 40.0
      # A shutoff that was shut, and not firmly, passes as much as one that leaks moderately: enough to mislead.
      # Estimate.
      WEEP_K = 0.3
      FITTING_NODES = {
        sight_tube: {
          id: :sight_tube,
          capacitance: 2.4
        },
        bleed_off_tee: {
          id: :tee,
          capacitance: 0.05,
          tolerance_scale: 2.0
        },
        line_gauge: {
          id: :line_gauge,
          capacitance: 0.05
        }
      }.freeze
      AIR = Hydraulics::Passage::AIR

      # @param variant [Stations::Variant]
      # @param state [State] the water in it is not needed
      # @param still [Boolean] with a main that does not swing, whatever the variant says
      def initialize(variant, state, still: false)
        @swing_psi = still ? 0.0 : variant.swing_psi
        @variant = variant
        @state = state
        @assembly = variant.station.assembly
        @kit = variant.station.kit
        @size_in = variant.station.size_in
      end

      # @return [Hydraulics::Network]
      def network
        @nodes = nodes
        @index = @nodes.each_with_index.to_h { |node, position| [node.id, position] }
        @hung = hung
        @empty_ports = empty_ports
        edges = edges()
        @edges_by_id = edges.to_h { |edge| [edge.id, edge] }
        Hydraulics::Network.new(
          nodes: @nodes,
          edges: edges,
          cross_capacitances: cross_capacitances,
          hoses: hoses,
          gauge: gauge,
          tracer: tracer
        )
      end

      # Outlets that eyes can see, in drawing order: id of the edge => what it is called.
      def self.outlet_ids(network) = network.edges.select(&:to_air?).map(&:id)

      private

      def nodes
        volume = @assembly.volume_scale(@size_in)
        @assembly.nodes.map { |data| node(data, volume) } + levels(volume) + @kit.nodes.map { |data| node(data, 1.0) } +
          @state.fittings.keys.map { |fitting| node(FITTING_NODES.fetch(fitting), 1.0) }
      end

      # Behind an inlet too narrow to let air in freely the water's level stands apart: see Hydraulics::AirGap.
      def levels(scale)
        return [] unless narrow?

        surface = surface(narrow_body[:free_surface], scale)
        [Hydraulics::Node.new(:level, surface.capacitance)]
      end

      def narrow? = @variant.setting(:air_inlet, :area, 1.0) < 1.0

      def narrow_body
        body = @assembly.edges.find { |data| data[:kind] == "air_inlet" }[:body]
        @assembly.nodes.find { |data| data[:id] == body }
      end

      def surface(data, scale) =
        Hydraulics::Node::FreeSurface.new(
          data[:volume_ml] * scale,
          Units.head_psi(data[:bottom_in]),
          Units.head_psi(data[:top_in])
        )

      def node(data, scale)
        surface = data[:free_surface] && surface(data[:free_surface], scale)
        surface = nil if surface && narrow? && data[:id] == narrow_body[:id]
        Hydraulics::Node.new(
          data[:id].to_sym,
          data[:capacitance] * scale,
          tolerance_scale: data.fetch(:tolerance_scale, 1.0),
          free_surface: surface,
          hose: data.fetch(:hose, false),
          pocket_ml: data.fetch(:pocket_ml, 0.0) * scale
        )
      end

      def cross_capacitances
        scale = @assembly.volume_scale(@size_in)
        @assembly.cross_capacitances.map do |data|
          from, to = data[:between].map { |id| @index.fetch(id.to_sym) }
          [from, to, data[:capacitance] * scale]
        end
      end

      def edges
        own = @assembly.edges.map { |data| assembly_edge(data) }
        cocks = test_cock_edges
        sources + own + air_gaps(own, cocks) + cocks + kit_edges + open_ports + hose_edges
      end

      def air_gaps(own, cocks)
        return [] unless narrow?

        inlet = own.grep(Hydraulics::AirInlet).first
        open = cocks.select { |edge| edge.to_air? && edge.from == inlet.body }
        surface = surface(narrow_body[:free_surface], @assembly.volume_scale(@size_in))
        [Hydraulics::AirGap.new(:air_gap, @index.fetch(:level), inlet, cocks: open, surface: surface)]
      end

      def tracer
        way = @assembly.waterway
        scale = @assembly.volume_scale(@size_in)
        Hydraulics::Tracer.new(
          nodes: way.nodes.map { |id| @index.fetch(id) },
          edges: way.edges.map { |id| @edges_by_id.fetch(id) },
          volumes_ml: way.nodes.map { |id| @assembly.water_ml(id) * scale },
          past_check: way.past_check
        )
      end

      def sources
        supply =
          Hydraulics::Source.new(
            :supply_pipe,
            @index[:supply],
            k: SUPPLY_K * scale,
            pressure_psi: @state.controls.fetch(:supply_pressure),
            swing_psi: @swing_psi,
            phases: @variant.phases
          )
        # The demand nobody sees, and the one tap downstream that the tester can open.
        drawn =
          %i[demand downstream_tap].map do |id|
            passage(
              id,
              :downstream,
              AIR,
              [Hydraulics::Valve.new(:orifice, @state.controls.fetch(id), k: DEMAND_K)],
              one_way: true
            )
          end
        return supply, *drawn unless @variant.back_pressure_psi

        pump =
          Hydraulics::Source.new(
            :back_pressure,
            @index[:downstream],
            k: BACK_PRESSURE_K,
            pressure_psi: Hydraulics::Ramp.at(@variant.back_pressure_psi)
          )
        [supply, *drawn, pump]
      end

      def scale = @assembly.flow_scale(@size_in)

      def assembly_edge(data)
        id = data[:id].to_sym
        set = @variant.edge_settings.fetch(id, {})
        case data[:kind]
        when "shutoff_valve"
          leak_k = set.fetch(:leak_k, 0.0) + weep_k(id)
          valve = Hydraulics::Valve.new(:shutoff_valve, @state.controls.fetch(id), k: leak_k, scale: scale)
          passage(id, data[:from], data[:to], [valve])
        when "check_valve"
          check_valve(id, data, set)
        when "relief_valve"
          Hydraulics::ReliefValve.new(
            id,
            @index[data[:inlet].to_sym],
            @index[data[:zone].to_sym],
            scale: scale,
            opening_psid: set.fetch(:opening_psid),
            port_psi: Units.head_psi(data[:port_in]),
            stuck: set.fetch(:stuck, false),
            leak_k: set.fetch(:leak_k, 0.0)
          )
        when "air_inlet"
          Hydraulics::AirInlet.new(
            id,
            @index[data[:body].to_sym],
            opening_psi: set.fetch(:opening_psi),
            scale: scale,
            elevation_psi: Units.head_psi(data[:elevation_in]),
            stuck: set.fetch(:stuck, false),
            area: set.fetch(:area, 1.0),
            level: @index[:level]
          )
        end
      end

      # A shutoff that was only shut, and not firmly.
      def weep_k(id) =
        (@variant.station.weeping.include?(id) && !@state.tightened.include?(id)) ? WEEP_K : 0.0

      def check_valve(id, data, set)
        Hydraulics::CheckValve.new(
          id,
          @index[data[:from].to_sym],
          @index[data[:to].to_sym],
          spring_psid: set.fetch(:spring_psid),
          softness_psid: data[:softness_psid],
          leak_k: set.fetch(:leak_k, 0.0),
          scale: scale,
          dry_psi: data[:dry_in] && Units.head_psi(data[:dry_in])
        )
      end

      # What an open cock leads to: a fitting on it, or air at its own height. A hose has its own edge.
      def test_cock_edges
        @assembly.test_cocks.values.flat_map do |cock|
          case @state.fittings.key(cock.id)
          when :sight_tube
            sight_tube(cock)
          when :bleed_off_tee
            tee(cock)
          when :line_gauge
            [passage(cock.id, cock.node, :line_gauge, [cock_valve(cock)])]
          else
            (@state.hose_ends.value?(cock.id) || @state.capped.include?(cock.id)) ? [] : [open_cock(cock)]
          end
        end
      end

      def open_cock(cock)
        passage(cock.id, cock.node, AIR, [cock_valve(cock)], air_in: cock.elevation_in, one_way: true)
      end

      def sight_tube(cock)
        [
          passage(
            cock.id,
            cock.node,
            :sight_tube,
            [cock_valve(cock), Hydraulics::Valve.orifice(HOSE_K)],
            dry_in: cock.elevation_in
          ),
          passage(
            :sight_tube_brim,
            :sight_tube,
            AIR,
            [Hydraulics::Valve.orifice(BRIM_K)],
            air_in: @assembly.tube_top_in(cock.id),
            one_way: true
          )
        ]
      end

      def tee(cock)
        needle = Hydraulics::Valve.new(:needle_valve, @state.controls.fetch(:tee_needle))
        edges = [
          passage(cock.id, cock.node, :tee, [cock_valve(cock)]),
          passage(:tee_needle, :tee, AIR, [needle], air_in: cock.elevation_in, one_way: true)
        ]
        return edges if @state.hose_ends.value?(cock.id)

        # With no hose on it the tee's side stands open.
        edges << passage(
          :tee_side,
          :tee,
          AIR,
          [Hydraulics::Valve.orifice(HOSE_K)],
          air_in: cock.elevation_in,
          one_way: true
        )
      end

      def cock_valve(cock)
        Hydraulics::Valve.new(
          :test_cock,
          @state.controls.fetch(cock.id),
          scale: @variant.setting(cock.id, :passage, 1.0) * @assembly.test_cock_scale(@size_in)
        )
      end

      def kit_edges
        @kit.valves.values.map do |valve|
          needle = Hydraulics::Valve.new(:needle_valve, @state.controls.fetch(valve.id))
          to = valve.to
          to = :air if @empty_ports.include?(to)
          at_kit(valve.id, valve.from, (to == :air) ? AIR : to, [needle], chamber: @kit.open_ports.include?(valve.from))
        end
      end

      # A port with no hose stands open, so its side of the gauge feels air. There is no water in it to tell apart.
      def open_ports
        @kit.open_ports.map do |node|
          at_kit(:"port_#{node}", node, AIR, [Hydraulics::Valve.orifice(HOSE_K)], chamber: true)
        end
      end

      # @param chamber [Boolean] of air: what goes in and out there is no water
      def at_kit(id, from, to, valves, chamber: false)
        Hydraulics::KitPassage.new(
          id,
          @index.fetch(from.to_sym),
          (to == AIR) ? AIR : @index.fetch(to.to_sym),
          valves,
          hoses: [@hung[from], @hung[to]],
          air_psi: Units.head_psi(@state.gauge_in),
          one_way: to == AIR && !chamber
        )
      end

      # @return [Hash{Symbol => Integer}] node of the kit => the hose that hangs from there in a column
      def hung
        @kit.hoses.each_value.with_index.filter_map { |hose, place| [hose.node, place] if hangs?(hose) }.to_h
      end

      def hangs?(hose)
        @state.hose_ends.fetch(hose.id) != :free && [nil, :kit].include?(@state.hose_ends[hose.near])
      end

      # @return [Array<Symbol>] ports whose hose was taken off the kit: they stand open
      def empty_ports
        @kit.hoses.each_value.filter_map do |hose|
          hose.node if @state.hose_ends[hose.near].to_s.start_with?("test_cock")
        end
      end

      def hose_edges
        @kit.hoses.values.flat_map do |hose|
          other_end = @state.hose_ends[hose.near]
          ends = [hose_end(hose, @state.hose_ends.fetch(hose.id), far_id(hose))]
          ends << hose_end(hose, other_end, :"hose_#{hose.id}_near") if other_end && other_end != :kit
          ends
        end
      end

      def far_id(hose) = :"hose_#{hose.id}"

      def hose_end(hose, place, id)
        bore = Hydraulics::Valve.orifice(@state.clogged.include?(hose.id) ? CLOGGED_K : HOSE_K)
        return at_kit(id, hose.node, AIR, [bore]) if place == :free

        cock = @assembly.test_cocks.fetch(place)
        return passage(id, :tee, hose.node, [bore]) if @state.fittings[:bleed_off_tee] == place

        passage(id, cock.node, hose.node, [cock_valve(cock), bore])
      end

      def hoses
        @kit.hoses.values.map do |hose|
          Hydraulics::Hose.new(
            hose.id,
            @index[hose.node],
            far_passage: far_id(hose),
            column_in: column_in(hose),
            top_in: @state.gauge_in
          )
        end
      end

      # What water a hose has to lose: its loop, and its rise where the kit is held above the test cock. One that hangs
      # free has none.
      def column_in(hose)
        return 0.0 unless hangs?(hose)

        cock = @assembly.test_cocks.fetch(@state.hose_ends.fetch(hose.id))
        hose.loop_in.to_f + [@state.gauge_in - cock.elevation_in, 0.0].max
      end

      def gauge
        ends = %i[high low].map { |side| @kit.gauge[side] }
        Hydraulics::Gauge.new(
          high: @index[ends[0]],
          low: @index[ends[1]],
          hoses: ends.map { |node| @kit.hoses.values.index { |hose| hose.node == node } },
          zero_error_psid: @variant.zero_error_psid
        )
      end

      def passage(id, from, to, valves, air_in: 0.0, one_way: false, dry_in: nil)
        Hydraulics::Passage.new(
          id,
          @index.fetch(from.to_sym),
          (to == AIR) ? AIR : @index.fetch(to.to_sym),
          valves,
          air_psi: Units.head_psi(air_in),
          one_way: one_way,
          dry_psi: dry_in && Units.head_psi(dry_in)
        )
      end
    end
  end
end
