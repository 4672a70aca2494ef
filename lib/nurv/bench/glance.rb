# frozen_string_literal: true

module Nurv
  module Bench
    # Eyes are in one place. On the gauge, a drop at the port or a poppet that stirs is not seen; on the port, the
    # gauge is in the corner of the eye, too blurred to be read. What a page may hold of a stretch is what such eyes
    # see of it.
    #
    # Rounding alone could be undone by timing its steps, so what is blurred is also off by an amount that is drawn
    # anew whenever the eyes go elsewhere.
    class Glance
      # psid: what the corner of an eye tells apart, and how far off it may be, either way.
      BLUR_PSID = 0.5
      # Not seen by eyes on the gauge; a stream is.
      SMALL = %w[drip trickle].freeze
      # A poppet that is up is seen.
      UP = 0.95
      PORTS = %i[relief_valve residual].freeze

      # @param variant [Stations::Variant]
      # @param state [State] whose eyes are somewhere
      def initialize(variant, state)
        @variant = variant
        @state = state
        @watched = Sight.new(variant.station, state).watched
      end

      # @return [Boolean] the gauge is out of focus
      def blurred? = !@watched.nil? && @state.watching != :gauge

      # @return [Boolean] the port, or the poppet, is out of sight
      def port_unseen? = !@watched.nil? && @state.watching == :gauge

      # @param frames [Hash] as Frames tells them
      # @return [Hash] the same as these eyes see it
      def of(frames)
        return frames.merge(needle: blurred(frames[:needle])) if blurred?
        return frames unless port_unseen?

        dim = {outlets: frames[:outlets].to_h { |id, points| [id, PORTS.include?(id) ? dimmed(points) : points] }}
        dim[:poppet] = poppet(frames[:poppet]) if frames[:poppet]
        frames.merge(dim)
      end

      private

      def blurred(points)
        points.map { |ms, psid| [ms, ((psid + off_psid) / BLUR_PSID).round * BLUR_PSID] }
          .chunk_while { |one, other| one[1] == other[1] }
          .flat_map { |same| (same.size > 1) ? [same.first, same.last] : same }
      end

      def off_psid =
        @off_psid ||= (Stations::Draw.new(@variant.seed).share("eyes #{@state.watched_s}") - 0.5) * 2.0 * BLUR_PSID

      def dimmed(points) = changes(points.map { |ms, word| [ms, SMALL.include?(word) ? "dry" : word] })

      def poppet(points) = changes(points.map { |ms, open| [ms, (open >= UP) ? 1.0 : 0.0] })

      def changes(points) = points.chunk_while { |one, other| one[1] == other[1] }.map(&:first)
    end
  end
end
