# frozen_string_literal: true

module Nurv
  module Grading
    # What a step may ask for to be recognised. Each condition is asked of one entry of a chronicle.
    #
    # A clause is a mapping of condition ids to their values; all of them must hold.
    class Conditions
      # @return [Procedures::Step]
      attr_reader :step

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

      # @param clauses [Array<Hash>]
      # @return [Boolean] they ask about nothing but an entry, whatever it is counted from
      def of_the_entry_alone?(clauses) =
        clauses.all? do |clause|
          clause.each_key.none? { |name| COUNTED_FROM.include?(name) } &&
            (!clause.key?(:situation) || of_the_entry_alone?(@step.situation))
        end

      # @param clause [Hash{Symbol => Object}]
      # @return [Boolean] it asks about nothing but how the bench stands: what hangs where, what is open or shut, what
      #   was seen and said
      def of_the_standing_alone?(clause) =
        clause.each_key.all? do |name|
          next @step.situation.all? { |one| of_the_standing_alone?(one) } if name == :situation

          OF_THE_STANDING.include?(name)
        end

      # How much of the clauses holds, each control, hose and fitting counted.
      #
      # @param clauses [Array<Hash>]
      # @param index [Integer]
      # @return [Integer]
      def share(clauses, index)
        parts = clauses.flat_map { |clause| clause.flat_map { |name, value| parts_of(name, value) } }
        parts.count { |name, value| REGISTRY.fetch(name).bind_call(self, value, index) }
      end

      # What is missing where the clauses do not hold, as far as there is something to name.
      #
      # @param clauses [Array<Hash>]
      # @param index [Integer]
      # @return [Remark, nil]
      def lacking(clauses, index)
        clauses.each do |clause|
          clause.each do |name, value|
            next if REGISTRY.fetch(name).bind_call(self, value, index)

            return LACKING[name]&.bind_call(self, value, index)
          end
        end
        nil
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

      def parts_of(name, value) =
        value.is_a?(Hash) ? value.map { |key, wanted| [name, {key => wanted}] } : [[name, value]]

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

      # All caps off, or all on; where there are none, it is so.
      def caps(place, index)
        station = @chronicle.variant.station
        return true unless station.capped?

        (place == "off") ? state(index).capped.empty? : (station.assembly.test_cocks.keys - state(index).capped).empty?
      end

      # Nothing in a digital kit's memories that was there before the tester came.
      def nothing_stored(_value, index) = state(index).memories.values.none? { |_, taken_s| taken_s.nil? }

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

      # A hose has been on the assembly, or a fitting: back pressure is found by a line gauge alone.
      def worked(_value, index) = @chronicle.first_put_on_s&.<=(@chronicle.from_s(index))

      # A shutoff stood shut, as found or by the tester.
      def shut_off(_value, index) =
        @chronicle.variant.station.assembly.shutoff_valves.any? { |valve| @chronicle.closed_by?(valve, index) }

      def was_closed(control, index) = @chronicle.closed_by?(control.to_sym, index)

      def test_cocks_closed(_value, index)
        @chronicle.variant.station.assembly.test_cocks.each_key.all? { |cock| state(index).closed?(cock) }
      end

      # Each ran for at least a second with nothing on it, and was closed again, or never was to the end.
      def flushed(cocks, index) =
        cocks.map(&:to_sym).all? { |cock| state(index).flushed.include?(cock) || runs_on?(cock, index) }

      # The same, or a hose on it was bled through it.
      def flushed_anyhow(cocks, index)
        cocks.map(&:to_sym).all? do |cock|
          flushed([cock], index) || bled_through_from(cock)&.<=(index)
        end
      end

      # @return [Integer, nil] the first entry at which a hose on this cock stood bled with the cock open
      def bled_through_from(cock)
        @bled_through ||= {}
        return @bled_through[cock] if @bled_through.key?(cock)

        @bled_through[cock] =
          (0...@chronicle.size).find do |index|
            hose = state(index).hose_ends.key(cock)
            hose && state(index).open?(cock) && bled([hose], index)
          end
      end

      def runs_on?(cock, index)
        since = state(index).running[cock]
        # While a test goes on, what runs may still be closed.
        return false if since.nil? || @chronicle.from_s(index) - since < 1.0 || !@chronicle.last_state.submitted

        @chronicle.last_closed(cock, @chronicle.size).to_i < index
      end

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

      # None of them has been opened so far.
      def not_yet_open(controls, index) =
        controls.none? { |control| @chronicle.last_opened(control.to_sym, index) }

      # It is in the notebook or the kit's memory, by the note that counts, the last: who goes back and reads again has
      # not come too late.
      def noted(item, index)
        last = @chronicle.notes(item.to_sym).last
        last && @chronicle.at_s(last) <= @chronicle.from_s(index)
      end

      # The tester said that it was done: no needle shows it.
      def declared(thing, index) = state(index).declared.include?(thing.to_sym)

      # --- what is missing

      def lacks_looks(things, index) =
        done_and_left(:looked_and_not, things, state(index).looked, %i[done_things left_things])

      def lacks_flushes(cocks, index) =
        done_and_left(:flushed_and_not, cocks, state(index).flushed, %i[done_controls left_controls])

      def lacks_flushes_anyhow(cocks, index)
        had = cocks.map(&:to_sym).select { |cock| flushed_anyhow([cock], index) }
        done_and_left(:flushed_and_not, cocks, had, %i[done_controls left_controls])
      end

      def done_and_left(said, wanted, had, names)
        parts = wanted.map(&:to_sym).partition { |one| had.include?(one) }
        Remark.new(said, **names.zip(parts).to_h) if parts.first.any?
      end

      def lacks_ears(topic, index)
        needed = @chronicle.variant.station.site.people.values.select { |person| person.topics.include?(topic) }
        told, not_told = needed.partition { |person| state(index).told.include?([person.id, topic.to_sym]) }
        Remark.new(:told_and_not, done: told.map(&:role), left: not_told.map(&:role)) if told.any?
      end

      def lacks_hoses(ends, index)
        hose, place = ends.find { |name, wanted| state(index).hose_ends[name] != wanted.to_sym }
        is = state(index).hose_ends[hose]
        Remark.new(:hose_is_elsewhere, hose: hose, place: place.to_sym, is: is) unless is.nil?
      end

      def lacks_fittings(places, index)
        fitting, place = places.find { |name, wanted| state(index).fittings[name] != wanted.to_sym }
        Remark.new(:fitting_is_elsewhere, fitting: fitting, place: place.to_sym)
      end

      def lacks_settings(positions, index)
        control, wanted = positions.find { |name, way| state(index).open?(name) != (way == "open") }
        Remark.new((wanted == "open") ? :was_not_opened : :was_not_closed, control: control)
      end

      def lacks_bleeding(hoses, index)
        share = ->(hose) { @chronicle.span(index).air_in_hose(hose.to_sym, @chronicle.from_s(index)) }
        worst = hoses.max_by(&share)
        Remark.new(:air_in_hose, hose: worst.to_sym, percent: (share.call(worst) * 100).round)
      end

      def lacks_closed_cocks(_value, index)
        open = @chronicle.variant.station.assembly.test_cocks.keys.select { |cock| state(index).open?(cock) }
        Remark.new(:stood_open, controls: open)
      end

      def lacks_free_hoses(_value, index)
        on = state(index).hose_ends.select { |_, place| place.to_s.start_with?("test_cock") }.keys
        Remark.new(:still_on, hoses: on)
      end

      def lacks_bare_cocks(_value, index) = Remark.new(:fitting_still_on, fitting: state(index).fittings.keys.first)

      def lacks_being_first(controls, index)
        opened = controls.map(&:to_sym).select { |control| @chronicle.last_opened(control, index) }
        Remark.new(:opened_earlier, controls: opened)
      end

      def lacks_found(_value, index)
        found = @chronicle.replay.first.state
        valve =
          @chronicle.variant.station.assembly.shutoff_valves.find do |name|
            (state(index).rest_position(name) - found.rest_position(name)).abs >= 0.01
          end
        Remark.new(found.open?(valve) ? :left_less_open : :left_more_open, control: valve)
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
          worked
          shut_off
          fittings
          fittings_off
          canopy
          caps
          nothing_stored
          as_found
          test_cocks_closed
          flushed
          flushed_anyhow
          bled
          reset
          turning
          situation
          noted
          not_yet_open
          declared
        ].to_h { |name| [name, instance_method(name)] }.merge(told: instance_method(:told?)).freeze
      # What is asked of a stretch of entries up to one.
      COUNTED_FROM = %i[reset turning].freeze
      # What is asked of how a bench stands, whatever the water does.
      OF_THE_STANDING = %i[
        looked
        told
        hoses
        hose_on_any
        hoses_off
        set
        fittings
        fittings_off
        canopy
        caps
        nothing_stored
        declared
        test_cocks_closed
      ].freeze
      # How each says what is missing, where it can.
      LACKING = {
        looked: instance_method(:lacks_looks),
        flushed: instance_method(:lacks_flushes),
        flushed_anyhow: instance_method(:lacks_flushes_anyhow),
        told: instance_method(:lacks_ears),
        hoses: instance_method(:lacks_hoses),
        fittings: instance_method(:lacks_fittings),
        set: instance_method(:lacks_settings),
        bled: instance_method(:lacks_bleeding),
        test_cocks_closed: instance_method(:lacks_closed_cocks),
        hoses_off: instance_method(:lacks_free_hoses),
        fittings_off: instance_method(:lacks_bare_cocks),
        not_yet_open: instance_method(:lacks_being_first),
        as_found: instance_method(:lacks_found)
      }.freeze
      private_constant :REGISTRY, :LACKING
    end
  end
end
