# frozen_string_literal: true

module Nurv
  module Bench
    # The face of a gauge, and whether it shows anything. One with a needle always does. A digital one is switched on,
    # counts itself in, goes into standby when nobody presses a button for a while, and has a light for dark places.
    class Face
      # s: switched on, it counts itself in; out of standby its sensor must come to rest first. Estimates.
      STARTS_S = 2.0
      WAKES_S = 6.0

      # @param station [Stations::Station] whose kit it is of
      # @param state [State] of the bench
      def initialize(station, state)
        @kit = station.kit_state
        @state = state
      end

      # @return [Boolean] it shows numbers, taken a few times a second, and no needle
      def digital? = @kit[:face] == "digital"

      # @param time_s [Float] simulated seconds, not before the last act
      # @return [Symbol] :on, :waking, :standby, :off, or :unlit where it is too dark to read it without its light
      def at(time_s)
        return :on unless digital?
        return @state.power unless @state.power == :on
        return :waking if time_s < @state.shows_s
        return :standby if time_s >= sleeps_s

        (@kit[:in_the_dark] && !@state.lit) ? :unlit : :on
      end

      # @return [Boolean] a value can be read off it
      def shows?(time_s) = at(time_s) == :on

      # @return [Array<Array(Float, Symbol)>] simulated seconds and how it is from then on, the first at from_s
      def changes(from_s, to_s)
        moments = [@state.shows_s, sleeps_s].select { |time| time > from_s && time <= to_s }
        [from_s, *moments.sort].map { |time| [time, at(time)] }
      end

      # @return [Float] simulated seconds at which it falls asleep if nobody presses anything: never, unless its kit
      #   does such a thing
      def sleeps_s
        after = @kit[:sleeps_after_s]
        after ? @state.touched_s + after : Float::INFINITY
      end
    end
  end
end
