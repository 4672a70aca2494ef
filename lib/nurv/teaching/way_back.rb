# frozen_string_literal: true

module Nurv
  module Teaching
    # A bench put to how a correct tester would have it there: fittings and hoses first, while nothing runs through
    # them, then the gauge, then what is to be shut, then what is to be open.
    class WayBack
      # controls [Hash{Symbol => Float}] turns or 0..1; hose_ends, fittings [Hash{Symbol => Symbol}] as a state has
      # them; gauge_in [Float] inches
      Setting =
        Struct.new(:controls, :hose_ends, :fittings, :gauge_in, keyword_init: true) do
          # @param state [Bench::State]
          def self.of(state) =
            new(
              controls: state.controls.transform_values(&:to),
              hose_ends: state.hose_ends,
              fittings: state.fittings,
              gauge_in: state.gauge_in
            )

          # @param kind [Symbol] of an act; fields [Hash] of it
          # @return [Setting] as it stands after it
          def after(kind, fields)
            case kind
            when :turn then with(controls: controls.merge(fields[:valve].to_sym => fields[:to]))
            when :connect then with(hose_ends: hose_ends.merge(WayBack.end_of(fields) => fields[:to].to_sym))
            when :disconnect then with(hose_ends: hose_ends.merge(WayBack.end_of(fields) => off(fields)))
            when :fit then with(fittings: fittings.merge(fields[:fitting].to_sym => fields[:to].to_sym))
            when :unfit then with(fittings: fittings.except(fields[:fitting].to_sym))
            when :level then with(gauge_in: fields[:to])
            else self
            end
          end

          def off(fields) = fields[:end] ? :kit : :free

          def with(**changes) = self.class.new(**to_h, **changes)
        end

      # So far off its height is where it was, inches.
      ABOUT_IN = 1.0
      # Open as far, give or take a quarter.
      FACTOR = 1.25
      # The customer's water stays off: nobody was told that it comes, and what comes next shuts it again.
      STAYS_SHUT = :shutoff_valve_2

      # @param fields [Hash] of an act at a hose
      # @return [Symbol] which end of it
      def self.end_of(fields) = fields[:end].to_s.empty? ? fields[:hose].to_sym : :"#{fields[:hose]}_#{fields[:end]}"

      # @param stands, to [Float] turns or 0..1
      # @return [Boolean] both shut, or open as far
      def self.as_far?(stands, to)
        return stands.zero? && to.zero? if stands.zero? || to.zero?

        (stands / to).between?(1.0 / FACTOR, FACTOR)
      end

      # @param now [Bench::State]
      # @param wanted [Setting]
      # @param besides [Array<Symbol>] controls that may stand as they like
      def initialize(now, wanted, besides: [])
        @now = now
        @wanted = wanted
        @besides = besides
      end

      # @return [Hash, nil] fields of the next act of it; nil where the bench stands so already
      def next_act = fittings || hoses || level || shut || open

      private

      def fittings
        gone = @now.fittings.find { |fitting, cock| @wanted.fittings[fitting] != cock }
        return freed(gone.last) || {kind: "unfit", fitting: gone.first.to_s} if gone

        fitting, cock = @wanted.fittings.find { |id, _| !@now.fittings.key?(id) }
        freed(cock) || {kind: "fit", fitting: fitting.to_s, to: cock.to_s} if fitting
      end

      def hoses
        moved = @wanted.hose_ends.reject { |hose, place| @now.hose_ends[hose] == place }
        hose, place = moved.find { |id, _| on_cock?(@now.hose_ends[id]) } || moved.first
        return unless hose

        there = @now.hose_ends[hose]
        return closed_first(there) || {kind: "disconnect", **end_named(hose)} if on_cock?(there)

        freed(place) || {kind: "connect", **end_named(hose), to: place.to_s} if on_cock?(place)
      end

      # Whatever hose is in the way there.
      def freed(cock)
        hose = @now.hose_ends.key(cock)
        closed_first(cock) || ({kind: "disconnect", **end_named(hose)} if hose)
      end

      def level
        {kind: "level", to: @wanted.gauge_in} if (@wanted.gauge_in - @now.gauge_in).abs > ABOUT_IN
      end

      def shut = turned { |to, _| to.zero? }

      def open = turned { |to, control| to.positive? && control != STAYS_SHUT }

      def turned
        control, to =
          @wanted.controls.find do |id, one|
            yield(one, id) && !@besides.include?(id) && @now.controls.key?(id) &&
              !WayBack.as_far?(@now.rest_position(id), one)
          end
        turn(control, to) if control
      end

      # What lets water against gauge, check or customer is moved slowly.
      def turn(control, to)
        slow = control.start_with?("shutoff") || (to.zero? && control.end_with?("bleed"))
        {kind: "turn", valve: control.to_s, to: to, speed: slow ? "slow" : "normal"}
      end

      def closed_first(cock) = (turn(cock, 0.0) if @now.controls.key?(cock) && @now.open?(cock))

      def on_cock?(place) = !place.nil? && !%i[free kit].include?(place)

      def end_named(hose)
        near = hose.to_s.end_with?("_near")
        near ? {hose: hose.to_s.delete_suffix("_near"), end: "near"} : {hose: hose.to_s}
      end
    end
  end
end
