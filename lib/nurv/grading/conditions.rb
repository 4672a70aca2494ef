# frozen_string_literal: true

module Nurv
  module Grading
    # What a step may ask for to be recognised. Each condition is asked of one entry of a chronicle.
    #
    # A clause is a mapping of condition ids to their values; all of them must hold.
    class Conditions
      # @param chronicle [Chronicle]
      # @param step [Procedures::Step]
      # @param since [Integer] entries before this one do not count
      def initialize(chronicle, step, since: 0, reference_psid: nil)
        @chronicle = chronicle
        @step = step
        @since = since
        @reference_psid = reference_psid
      end

      # @param clauses [Array<Hash>] all must hold
      # @param index [Integer]
      def hold?(clauses, index) = clauses.all? { |clause| holds?(clause, index) }

      # @param clause [Hash{Symbol => Object}] condition => what is asked of it
      # @param index [Integer] of an entry
      # @return [Boolean] all of it holds there
      # @raise [KeyError] for a condition that there is none of
      def holds?(clause, index)
        clause.all? { |name, value| REGISTRY.fetch(name).bind_call(self, value, index) }
      end

      # @param name [Symbol]
      # @return [Boolean] whether there is such a condition
      def self.known?(name) = REGISTRY.key?(name)

      # @return [Boolean] everybody here who is to hear of this has been told
      def told?(topic, index)
        needed = @chronicle.variant.station.site.people.values.select { |person| person.topics.include?(topic) }
        needed.all? { |person| state(index).told.include?([person.id, topic.to_sym]) }
      end

      private

      def state(index) = @chronicle.state(index)

      def looked(things, index) = things.all? { |thing| state(index).looked.include?(thing.to_sym) }

      def looking(thing, index)
        action = @chronicle.action(index)
        action.kind == :look && action.named(:at) == thing.to_sym
      end

      def hoses(ends, index) = ends.all? { |hose, place| state(index).hose_ends[hose] == place.to_sym }

      def hose_on_any(_value, index) =
        state(index).hose_ends.values.any? { |place| place.to_s.start_with?("test_cock") }

      def hoses_off(_value, index) = !hose_on_any(true, index)

      def set(positions, index)
        positions.all? do |control, wanted|
          (wanted == "open") ? state(index).open?(control) : state(index).closed?(control)
        end
      end

      def fittings(places, index) = places.all? { |fitting, place| state(index).fittings[fitting] == place.to_sym }

      def fittings_off(_value, index) = state(index).fittings.empty?

      def canopy(place, index) = state(index).canopy == place.to_sym

      # Shutoffs as they were when the tester came.
      def as_found(_value, index)
        found = @chronicle.replay.first.state
        @chronicle.variant.station.assembly.shutoff_valves.all? do |valve|
          (state(index).rest_position(valve) - found.rest_position(valve)).abs < 0.01
        end
      end

      # An act that brought a control there from the other position.
      def set_again(positions, index)
        positions.all? do |control, wanted|
          @chronicle.turned(index, control) == ((wanted == "open") ? 1 : -1) && set({control => wanted}, index)
        end
      end

      def was_closed(control, index) = @chronicle.closed_by?(control.to_sym, index)

      def test_cocks_closed(_value, index)
        @chronicle.variant.station.assembly.test_cocks.each_key.all? { |cock| state(index).closed?(cock) }
      end

      # Each ran for at least a second with nothing on it, and was closed again.
      def flushed(cocks, index) = cocks.all? { |cock| state(index).flushed.include?(cock.to_sym) }

      def bled(hoses, index)
        share = @chronicle.procedure.bleed_air_share
        hoses.all? { |hose| @chronicle.span(index).air_in_hose(hose.to_sym, @chronicle.from_s(index)) <= share }
      end

      # The low bleed was opened, the needle rose to the apparent value or above, and the bleed was closed.
      def reset(_value, index)
        return false unless @chronicle.turned(index, :low_bleed) == -1 && state(index).closed?(:low_bleed)

        opened = @chronicle.last_opened(:low_bleed, index)
        return false if opened.nil? || opened < @since

        @chronicle.highest_needle(opened, index) >= (@reference_psid || 0.0) - 0.05
      end

      # From the first turn of a valve on.
      def turning(valve, index) = @chronicle.turned_within?(valve.to_sym, @since, index)

      def situation(_value, index) = hold?(@step.situation, index)

      REGISTRY =
        %i[
          looked
          looking
          hoses
          hose_on_any
          hoses_off
          set
          set_again
          was_closed
          fittings
          fittings_off
          canopy
          as_found
          test_cocks_closed
          flushed
          bled
          reset
          turning
          situation
        ].to_h { |name| [name, instance_method(name)] }.merge(told: instance_method(:told?)).freeze
      private_constant :REGISTRY
    end
  end
end
