# frozen_string_literal: true

module Nurv
  module Equipment
    # The data of an assembly that stands: its parts lie along the flow as they are drawn, one scale for both, so that
    # what looks level is.
    #
    # Heights are inches above the middle of the body. Pressures need none of that, for they are told as if all were at
    # one height; what meets the air does: outlets of test cocks, the relief port, and chambers that air gets into.
    class Standing
      WAYS = %i[upwards downwards].freeze
      # The zone of an assembly that stands reaches from one check to the other.
      ZONE = :zone
      # A chamber with less water than this over its bottom counts as empty, inches.
      DRY_IN = 2.0

      # @param data [Hash] of the assembly as it lies; standing: middle, where heights begin, and per_inch, both as the
      #   drawing measures along the flow
      # @param way [Symbol] of WAYS
      def initialize(data, way)
        @data = data
        @sign = (way == :upwards) ? 1.0 : -1.0
      end

      # @return [Hash]
      def data
        Facts.of(
          @data.except(:standing).merge(
            stood: @data[:standing],
            test_cocks: @data[:test_cocks].map { |cock| cock.merge(elevation_in: height_in(cock[:id])) },
            levels: [{id: "centre_line", label: "middle of the body", elevation_in: 0}],
            nodes: @data[:nodes].map { |node| node_data(node) },
            edges: @data[:edges].map { |edge| edge_data(edge) }
          )
        )
      end

      private

      # @return [Float] inches, to a tenth
      # @raise [DataError] where the drawing does not say how far along it is
      def height_in(part)
        along = @data.dig(:drawing, part.to_sym, :x)
        unless along.is_a?(Numeric)
          raise DataError.new("assemblies #{@data[:id]}", [["drawing.#{part}.x", Remark.new(:missing)]])
        end

        (@sign * (along - @data[:standing][:middle]) / @data[:standing][:per_inch]).round(1) + 0.0
      end

      def zone_in = %i[check_valve_1 check_valve_2].map { |check| height_in(check) }.minmax

      def node_data(node)
        return node unless node[:free_surface] && node[:id].to_sym == ZONE

        bottom, top = zone_in
        node.merge(free_surface: node[:free_surface].merge(bottom_in: bottom, top_in: top))
      end

      def edge_data(edge)
        return edge.merge(port_in: zone_in.first) if edge[:port_in]
        return edge.merge(dry_in: zone_in.first + DRY_IN) if edge[:dry_in]

        edge
      end
    end
  end
end
