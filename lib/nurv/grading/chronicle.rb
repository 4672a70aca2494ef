# frozen_string_literal: true

module Nurv
  module Grading
    # A replayed attempt, asked about by index: entry i is the bench from act i until act i + 1.
    class Chronicle
      # Looks that a mean over a swing is taken of.
      MEAN_OF = 16
      # Looks between two moments that a range is taken of.
      LOOKS = 20
      # A note that is no further off is what the memory shows, to its digits.
      SAME_PSID = 0.051

      attr_reader :replay, :procedure

      # @param replay [Bench::Replay]
      # @param window [Range] the entries that count: all, or those before or after a repair
      def initialize(replay, procedure, window: 0..)
        @replay = replay
        @procedure = procedure
        @entries = replay.entries[window] || []
        beyond = window.end && replay.entries[window.end]
        @end_s = beyond ? beyond.action.time_s : replay.end_s
      end

      # @return [Integer] acts
      def size = @entries.size

      # @return [Bench::Action]
      def action(index) = @entries[index].action

      # @return [Bench::State] after that act
      def state(index) = @entries[index].span.state

      # @return [Bench::Span] from that act on
      def span(index) = @entries[index].span

      # @return [Bench::State] before that act
      def state_before(index) = @entries[index].before.state

      # @return [Float] simulated seconds of that act
      def from_s(index) = @entries[index].action.time_s

      # @return [Float] simulated seconds of the act after it, or of the end
      def to_s_at(index) = (index + 1 < size) ? from_s(index + 1) : @end_s

      attr_reader :end_s

      # @return [Float] simulated seconds of the first act in this window; 0.0 without any
      def start_s = @entries.first&.action&.time_s || 0.0

      # @return [Bench::State] after the last act in this window
      def last_state = (@entries.last&.span || replay.first).state

      # @return [Stations::Variant]
      def variant = replay.variant

      # @return [Integer] the earliest entry from which on the bench has stood as at this one: all that was done since
      #   was to move what was open already and stays so
      def stands_as(index)
        @stands_as ||=
          (0...size).each_with_object([]) { |i, list| list << ((list.any? && only_moved?(i)) ? list.last : i) }
        @stands_as[index]
      end

      private def only_moved?(index)
        act = action(index)
        return false unless act.kind == :turn

        valve = act.named(:valve)
        state_before(index).open?(valve) && state(index).open?(valve)
      end

      # Whether an act turned this control, and which way. +1 opened, −1 closed further, 0 not turned.
      def turned(index, control)
        act = action(index)
        return 0 unless act.kind == :turn && act.named(:valve) == control

        act[:to] <=> state_before(index).position(control, act.time_s)
      end

      # @return [Integer, nil] index of the last act at or before `index` that opened a shut control
      def last_opened(control, index)
        last_at(index, indices(:opened, control) { |i| turned(i, control) == 1 && state_before(i).closed?(control) })
      end

      # @return [Integer, nil] index of the last act at or before `index` that closed it fully
      def last_closed(control, index)
        last_at(index, indices(:closed, control) { |i| turned(i, control) == -1 && state(i).closed?(control) })
      end

      # @return [Boolean] whether any act from `since` to `index` turned this control
      def turned_within?(control, since, index)
        last = last_at(index, indices(:turned, control) { |i| turned(i, control) != 0 })
        !last.nil? && last >= since
      end

      # @return [Boolean] whether this control was shut after any act up to `index`
      def closed_by?(control, index)
        @first_closed ||= {}
        @first_closed[control] = (0...size).find { |i| state(i).closed?(control) } unless @first_closed.key?(control)
        first = @first_closed[control]
        !first.nil? && first <= index
      end

      # The act in a range that moved a control fastest in one direction.
      #
      # @return [Array(Integer, Float), nil] the act, and turns (or full openings) a second
      def fastest(control, direction, range)
        range.filter_map { |i|
          next unless turned(i, control) == direction

          [i, rate_of(i, control)]
        }.max_by(&:last)
      end

      # A hand that is followed is judged over no less than this, s: its last ramp may be short and steep.
      HAND_S = 0.3

      # @param index [Integer] of an act that turned this control
      # @return [Float] turns (or full openings) a second, over the whole turn, or from there on as the hand went
      def rate_of(index, control)
        ramp = state(index).controls[control]
        return (ramp.to - ramp.from).abs / (ramp.end_s - ramp.start_s) unless action(index)[:over]

        until_s = ramp.start_s + HAND_S
        last = index
        last += 1 while last + 1 < size && from_s(last + 1) <= until_s
        (state(last).position(control, until_s) - ramp.from).abs / HAND_S
      end

      # @return [Float, nil] simulated seconds of the act that first put a hose or a fitting on a test cock, before this
      #   window too
      def first_put_on_s
        return @first_put_on_s if defined?(@first_put_on_s)

        first = replay.entries.find do |entry|
          state = entry.span.state
          state.fittings.any? || state.hose_ends.values.any? { |to| to.start_with?("test_cock") }
        end
        @first_put_on_s = first&.action&.time_s
      end

      # @param note [Bench::Note]
      # @return [Integer] the act that wrote it: others may have been done in the same moment
      def index_of(note)
        (0...size).find do |i|
          action(i).kind == :jot && action(i).named(:item) == note.item && (from_s(i) - note.at_s).abs < 0.0005
        end
      end

      # Highest the needle stood between two acts.
      def highest_needle(from_index, to_index)
        (from_index...to_index)
          .flat_map { |i| span(i).trajectory.needle_points(from_s(i), to_s_at(i)) }
          .map(&:last)
          .max
      end

      # @return [Float, nil] first moment in the entries from..to at which this port discharges
      def first_discharge(port, from_index, to_index)
        (from_index..to_index).each do |i|
          moment = span(i).trajectory.first_time(from_s(i), to_s_at(i)) do |time|
            Expert::Eyes.happens?(span(i), port, time)
          end
          return moment if moment
        end
        nil
      end

      # @return [Float] psid, as the needle stood
      def needle_at(time_s) = replay.needle_at(time_s)

      # @return [Boolean] the needle stood against its stop
      def pegged_at?(time_s) = needle_at(time_s) >= Expert::Eyes::PEGGED_PSID

      # What a digital kit had in its memory of a note's name, where just that was noted and was taken in this window.
      # A memory that somebody else filled says nothing.
      #
      # @param note [Bench::Note]
      # @return [Array(Float, Float), nil] psid, and the simulated seconds it was taken at
      def kept(note)
        return unless remembers?

        index = index_of(note) or return
        psid, taken_s = state(index).memories[note.item]
        return if taken_s.nil? || taken_s < start_s - 0.001

        number = Procedures::Item.number(note.value)
        [psid, taken_s] if number && (number - psid).abs <= SAME_PSID
      end

      # When what was noted was taken: at the note, or when the tester froze it or put it into a memory.
      #
      # @param note [Bench::Note]
      # @return [Float] simulated seconds
      def taken_s(note)
        kept_s = kept(note)&.last
        return kept_s if kept_s

        index = index_of(note)
        return note.at_s if index.nil? || state(index).captured_psid.nil?

        frozen = index.downto(0).find { |i| action(i).kind == :capture }
        frozen ? from_s(frozen) : note.at_s
      end

      # @return [Float] psid between the lowest and the highest the needle stood from one moment to another
      def range_psid(from_s, until_s)
        every = [(until_s - from_s) / LOOKS, 0.05].max
        shown = []
        from_s.step(until_s, every) { |time| shown << needle_at(time) }
        shown.empty? ? 0.0 : shown.max - shown.min
      end

      # How fast the needle moved just before a moment, psi/s, looking back no further than `since`.
      def rate_at(time_s, since)
        early = [time_s - 2.0, since].max
        return Float::INFINITY if time_s - early < 0.5

        (needle_at(time_s) - needle_at(early)) / (time_s - early)
      end

      # Whether the main swings then, so that no needle ever stands.
      def swings_at?(time_s) = replay.span_at(time_s).variant.swing_psi.positive?

      # How fast the middle of a swinging needle moves, psi/s: its mean over the last few seconds against that over as
      # many before, looking back no further than `since`.
      def drift_at(time_s, since)
        period = Hydraulics::Source::BASE_PERIOD_S
        return Float::INFINITY if time_s - since < 2.0 * period

        (mean_needle(time_s) - mean_needle(time_s - period)) / period
      end

      # Over the base period of a swing before a moment.
      private def mean_needle(time_s)
        every = Hydraulics::Source::BASE_PERIOD_S / MEAN_OF
        (0...MEAN_OF).sum { |part| needle_at(time_s - (part + 0.5) * every) } / MEAN_OF
      end

      private def indices(kind, control, &)
        @indices ||= {}
        @indices[[kind, control]] ||= (0...size).select(&)
      end

      # The last of an ascending list that is not beyond `index`.
      private def last_at(index, list)
        place = list.bsearch_index { |i| i > index } || list.size
        list[place - 1] if place.positive?
      end

      # @param item [Symbol]
      # @return [Boolean] neither in the notebook nor on the report
      def unrecorded?(item)
        fields = [item, :"#{Reports::FieldReport::RETEST}#{item}"]
        notes(item).empty? && last_state.report.values_at(*fields).all? { |value| value.to_s.strip.empty? }
      end

      # @param attempted [Attempted]
      # @return [Bench::Note, nil] the last note of an item that was made in a try
      def note_in(item, attempted) =
        notes(item).reverse_each.find { |note| at_s(note).between?(attempted.from_s, attempted.until_s + 0.01) }

      # @return [Float] simulated seconds a note belongs to: what comes out of a memory, to when it was put in
      def at_s(note) = kept(note)&.last || note.at_s

      # @return [Integer, nil] the act after which the bench stood as it was then
      def index_at(note)
        kept_s = kept(note)&.last or return index_of(note)

        (0...size).reverse_each.find { |i| from_s(i) <= kept_s + 0.0005 }
      end

      # Nobody looks into memories that were never used.
      private def remembers?
        return @remembers if defined?(@remembers)

        @remembers = @entries.any? { |entry| entry.action.kind == :keep }
      end

      # @param what [Symbol] of those that a mistake's data may name: see Shapes::Mistake
      # @return [Boolean] it was done in this stretch of the test, or before it
      def happened?(what) =
        (@happened ||= {}).fetch(what) do
          @happened[what] = replay.entries.any? { |entry| HAPPENED.fetch(what).call(entry, variant.station.assembly) }
        end

      turned = lambda do |entry, assembly|
        entry.action.kind == :turn && assembly.shutoff_valves.include?(entry.action.named(:valve))
      end
      HAPPENED = {
        water_off: ->(entry, assembly) { turned.call(entry, assembly) && entry.action[:to].to_f < 0.5 },
        water_on: ->(entry, assembly) { turned.call(entry, assembly) && entry.action[:to].to_f >= 0.5 },
        hose_on: ->(entry, _) { entry.action.kind == :connect },
        canopy_off: ->(entry, _) { entry.span.state.canopy == :off }
      }.freeze
      private_constant :HAPPENED

      # Notes of an item, each with its moment.
      def notes(item) = last_state.notebook.select { |note| note.item == item && note.at_s >= start_s - 0.001 }
    end
  end
end
