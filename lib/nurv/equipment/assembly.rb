# frozen_string_literal: true

module Nurv
  module Equipment
    # A type of assembly as data: its volumes, valves, test cocks and heights.
    class Assembly
      TestCock = Struct.new(:id, :node, :elevation_in, keyword_init: true)
      Level = Struct.new(:id, :label, :elevation_in, keyword_init: true)

      # The waters from the main to the customer in order, what joins each to the next, and how many lie before the
      # first check valve.
      Waterway = Struct.new(:nodes, :edges, :past_check)

      # Water of a chamber that does not say how much it holds, mL.
      USUAL_WATER_ML = 200.0

      attr_reader :id, :name, :short, :nodes, :edges, :cross_capacitances, :test_cocks, :levels, :springs_psid,
        :openings_psid, :components, :drawing, :waterway, :told_levels, :standing_scale

      # @param data [Hash] as in data/assemblies: heights in inches above the pipe's centre line, springs and openings
      #   in psid
      def initialize(data)
        @id = data[:id].to_sym
        @name = data[:name]
        @short = data[:short]
        @suits = data.fetch(:suits, %w[low high])
        @back_pressure = data.fetch(:back_pressure, true)
        @nodes = data[:nodes]
        @edges = data[:edges]
        @cross_capacitances = data[:cross_capacitances]
        @test_cocks = data[:test_cocks].to_h { |cock| [cock[:id].to_sym, test_cock(cock)] }
        own = data[:levels].map { |level| Level.new(**level, id: level[:id].to_sym) }
        outlets = outlet_levels
        # Where all outlets are at one height, its own levels tell of them.
        @told_levels = data[:stood] ? outlets + own : own
        @levels = (outlets + tube_levels + own).to_h { |level| [level.id, level] }
        @springs_psid = data.dig(:usual, :springs_psid)
        @openings_psid = data.dig(:usual, :openings_psid)
        @components = data[:components].map(&:to_sym)
        @drawing = data[:drawing]
        @water_ml = @nodes.to_h { |node| [node[:id].to_sym, node.fetch(:water_ml, USUAL_WATER_ML).to_f] }
        @waterway = find_waterway
        # Where heights begin and an inch, along the flow of the drawing, for one that can stand.
        @standing_scale = (data[:standing] || data[:stood])&.values_at(:middle, :per_inch)
        @stood = data[:standing] ? Standing::WAYS.to_h { |way| [way, Assembly.new(Standing.new(data, way).data)] } : {}
        freeze
      end

      # @return [Boolean] it can be put into a pipe that goes up or down
      def stands? = @stood.any?

      # @param way [Symbol] :upwards or :downwards, as its water goes; any other for one that lies
      # @return [Assembly] as it is there: its outlets and chambers at heights of their own
      def stood(way) = @stood.fetch(way, self)

      # How far a sight tube's brim is above the outlet of the cock that it is on, inches.
      TUBE_IN = 6.0

      # @param cock [Symbol]
      # @return [Float] inches above the pipe's centre line
      def tube_top_in(cock) = @test_cocks.fetch(cock).elevation_in + TUBE_IN

      # @return [Array<Symbol>] the inlet's first
      def shutoff_valves = %i[shutoff_valve_1 shutoff_valve_2]

      # @return [Array<Symbol>] chambers between the shutoffs
      def body_nodes = @nodes.map { |node| node[:id].to_sym } - %i[supply downstream]

      # @param hazard [String] low or high
      # @param back_pressure_psi [Float] that comes back from downstream
      # @return [Boolean] whether it is approved for such a use
      def suits?(hazard, back_pressure_psi = 0.0) =
        @suits.include?(hazard) && (@back_pressure || back_pressure_psi.zero?)

      # @param node [Symbol]
      # @return [Float] mL of a one-inch assembly's water in which what comes in is mixed
      def water_ml(node) = @water_ml.fetch(node)

      # K and volumes against a one-inch assembly. Volumes grow with the square root only, so that a kit with the same
      # hoses still moves the needle of a big assembly at a human pace.
      def flow_scale(size_in) = size_in.to_f

      # Large assemblies have larger test cocks, small ones none smaller than a one-inch assembly's.
      #
      # @param size_in [Float] nominal size, inches
      # @return [Float] K of a test cock against that of a one-inch assembly's
      def test_cock_scale(size_in) = [size_in.to_f, 1.0].max

      # @param size_in [Float] nominal size, inches
      # @return [Float] volumes against those of a one-inch assembly
      def volume_scale(size_in) = Math.sqrt(size_in.to_f)

      private

      # A step may ask for the outlet of any cock, and for the brim of a tube on it.
      def outlet_levels
        @test_cocks.values.map do |cock|
          name = cock.id.to_s.sub("test_cock_", "TC")
          Level.new(id: :"#{cock.id}_outlet", label: "outlet of #{name}", elevation_in: cock.elevation_in)
        end
      end

      def tube_levels
        @test_cocks.keys.map { |id| Level.new(id: :"tube_on_#{id}", label: "tube top", elevation_in: tube_top_in(id)) }
      end

      def find_waterway
        nodes = [:supply]
        joins = []
        steps = @edges.select { |data| data[:from] && data[:to] }
        while (join = steps.find { |data| data[:from].to_sym == nodes.last && !nodes.include?(data[:to].to_sym) })
          joins << join
          nodes << join[:to].to_sym
        end
        past_check = joins.index { |join| join[:kind] == "check_valve" }&.succ
        Waterway.new(nodes, joins.map { |join| join[:id].to_sym }, past_check).freeze
      end

      def test_cock(data)
        TestCock.new(id: data[:id].to_sym, node: data[:node].to_sym, elevation_in: data[:elevation_in].to_f)
      end
    end
  end
end
