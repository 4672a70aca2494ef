# frozen_string_literal: true

module Nurv
  module Bench
    # The part of Hands that makes things ready for a hose and for a reading: caps off the test cocks and back on,
    # adapters, and a firmer hand on a shutoff that is shut already.
    module Readying
      private

      # A capped cock holds its water whatever its handle says, so nobody takes a cap off one that stands open.
      def cap(action)
        cock = cock_of(action)
        to = on_or_off(action)
        raise RefusedAction.new(:cap_already, control: cock, place: to) if capped?(cock) == (to == :on)
        raise RefusedAction.new(:close_first, control: cock) if @state.open?(cock)

        bare!(cock)
        raise RefusedAction.new(:take_adapter_off, control: cock) if to == :on && adapted?(cock)

        @state.with(capped: placed(@state.capped, cock, to))
      end

      def adapt(action)
        cock = cock_of(action)
        to = on_or_off(action)
        raise RefusedAction.new(:no_adapters) unless @station.adapters?
        raise RefusedAction.new(:adapter_already, control: cock, place: to) if adapted?(cock) == (to == :on)

        uncapped!(cock)
        raise RefusedAction.new(:close_first, control: cock) if @state.open?(cock)

        bare!(cock)
        @state.with(adapted: placed(@state.adapted, cock, to))
      end

      # One that weeps stops; one that leaks does not.
      def tighten(action)
        valve = action.named(:valve)
        raise RefusedAction.new(:no_such_valve, typed: valve) unless @station.assembly.shutoff_valves.include?(valve)
        raise RefusedAction.new(:shut_it_first, control: valve) if @state.open?(valve)
        raise RefusedAction.new(:tight_already, control: valve) if @state.tightened.include?(valve)

        @state.with(water: water_now, tightened: (@state.tightened + [valve]).freeze)
      end

      def placed(list, cock, to) = ((to == :on) ? list + [cock] : list - [cock]).freeze

      def capped?(cock) = @state.capped.include?(cock)

      def adapted?(cock) = @state.adapted.include?(cock)

      def cock_of(action)
        cock = action.named(:at)
        raise RefusedAction.new(:no_such_cock, control: cock) unless @station.assembly.test_cocks.key?(cock)

        cock
      end

      def on_or_off(action)
        to = action.named(:to)
        raise RefusedAction.new(:on_or_off, typed: to) unless %i[on off].include?(to)

        to
      end

      def bare!(cock)
        raise RefusedAction.new(:take_off_first, control: cock) if @state.on_test_cock(cock)
      end

      def uncapped!(cock)
        raise RefusedAction.new(:cap_off_first, control: cock) if capped?(cock)
      end

      # Whether a hose or a fitting can go on.
      def ready!(cock)
        uncapped!(cock)
        raise RefusedAction.new(:needs_adapter, control: cock) if @station.adapters? && !adapted?(cock)
      end
    end
  end
end
