# frozen_string_literal: true

module Nurv
  module Fairness
    # Good logs and mistaken ones over procedures and stations, marked, and how often the marks are right.
    class Survey
      # Faults that are looked at beside a healthy assembly: one for each way in which a test can end.
      FAULTS = %i[
        check_valve_1_fouled
        check_valve_1_weak_spring
        check_valve_2_fouled
        relief_valve_opens_low
        relief_valve_stuck
        relief_valve_seat_fouled
        shutoff_valve_1_leaks
        shutoff_valve_2_leaks
        air_inlet_opens_low
        air_inlet_stuck
      ].freeze

      # Of each way of a setting: these good logs, and one mistake in so many.
      OF_PRESETS = ["as taught", "slowly", "in stages", "done over"].freeze
      EVERY = 6

      # One log to be tried. `wanted` [Array<Symbol>]; `log` [Proc] makes it
      Case = Struct.new(:hand, :title, :wanted, :log, keyword_init: true)

      # @param catalog [Catalog]
      # @param procedures [Array<Procedures::Procedure>]
      # @param faults [Array<Symbol>] beside a healthy assembly
      def initialize(catalog, procedures: catalog.procedures.values, faults: FAULTS)
        @catalog = catalog
        @procedures = procedures
        @faults = faults
        @matrix = Expert::Matrix.new(catalog)
      end

      # @return [Array<Proc>] one for each station, and for each way of each setting; each makes the cases of it
      def places = @procedures.flat_map { |procedure| places_of(procedure) }

      # @return [Array<Case>] all of them, none worked out yet
      def cases = @cases ||= places.flat_map(&:call)

      # @param some [Array<Case>]
      # @return [Array<Trial>] those that the bench did not refuse
      def try(some = cases)
        some.filter_map do |one|
          one.hand.trial(one.title, one.log.call, one.wanted)
        rescue RefusedAction
          nil
        end
      end

      # @param workers [Integer] processes at once
      # @return [Array<Trial>] as #try, station by station
      def try_side_by_side(workers)
        parts = cases.chunk_while { |one, other| one.hand.equal?(other.hand) }.to_a
        shares = parts.each_with_index.group_by { |_, index| index % workers }.values
        done = shares.map { |share| apart { share.map { |some, index| [index, try(some)] } } }
        done.flat_map { |reader| Marshal.load(reader.read) }.sort_by(&:first).flat_map(&:last)
      end

      private

      # Worked out in a process of its own.
      #
      # @return [IO] its answer
      def apart
        reader, writer = IO.pipe(binmode: true)
        fork do
          reader.close
          writer.write(Marshal.dump(yield))
          writer.close
          exit!(0)
        end
        writer.close
        reader
      end

      def places_of(procedure)
        known = @faults.filter_map { |id| @catalog.faults[id] }.select { |fault| fault.applies_to?(procedure.assembly) }
        [nil, *known].map { |fault| -> { at_station(procedure, fault) } } + presets(procedure)
      end

      def at_station(procedure, fault)
        hand = hand(procedure, fault)
        at = fault ? fault.id.to_s : "healthy"
        good = GoodLogs.new(hand, procedure).ways.map { |title, log| one(hand, "#{at}: #{title}", [], log) }
        return good unless hand.truth.solvable?

        good + planted(hand, procedure).map { |plant| one(hand, "#{at}: #{plant.title}", plant.mistakes, plant.log) }
      end

      # Every way of every setting that is not the usual one, on a healthy assembly: some of the logs.
      def presets(procedure)
        procedure.settings.flat_map do |setting|
          setting.choices.drop(1).map { |choice| -> { preset(procedure, setting, choice) } }
        end
      end

      def preset(procedure, setting, choice)
        adopted = procedure.adjusted({settings: {setting.id => choice.id.to_s}})
        hand = hand(adopted, nil)
        at = "#{setting.id} #{choice.id}"
        ways = GoodLogs.new(hand, adopted).ways.slice(*OF_PRESETS)
        plants = planted(hand, adopted).each_slice(EVERY).map(&:first)
        ways.map { |title, log| one(hand, "#{at}: #{title}", [], log) } +
          plants.map { |plant| one(hand, "#{at}: #{plant.title}", plant.mistakes, plant.log) }
      end

      def hand(procedure, fault) =
        Hand.new(Stations::Variant.new(@matrix.station(procedure, fault, fault && :moderate), 1), procedure)

      def planted(hand, procedure) = [Mistakes, Papers].flat_map { |kind| kind.new(hand, procedure).plants }

      def one(hand, title, wanted, log) = Case.new(hand: hand, title: title, wanted: wanted, log: log)
    end
  end
end
