# frozen_string_literal: true

module Nurv
  module Grading
    # Marks what was recorded against what the gauge showed this tester, and observations against what was there to
    # see. What is recorded earns only where it could be read or seen.
    class ReadingMarks
      POINTS = 10
      # Less than this nobody reads a needle in, s.
      READ_S = 1.0
      # A needle that has stood so long can be read at ease, s.
      STOOD_S = 5.0
      # A plain gauge is read to 2 psi.
      LINE_TOLERANCE_PSI = 2.0

      # @param report [Reports::FieldReport]
      # @param step_marks [StepMarks]
      def initialize(chronicle, truth, report, step_marks, policy)
        @chronicle = chronicle
        @truth = truth
        @report = report
        @step_marks = step_marks
        @policy = policy
        @procedure = truth.procedure
      end

      # @return [Array<Line>] one per item that this station's test yields, and one per reading invented beyond them
      def lines
        @lines ||=
          @procedure
            .items
            .values
            .select { |item| wanted?(item) }
            .map { |item| item.reading? ? reading(item) : observation(item) }
      end

      # @param component [Symbol]
      # @return [Boolean] something that decides about it was read or seen where it could be
      def stood?(component) =
        @procedure.items.values.any? { |item| item.component == component && item.judges? && worked_for?(item) }

      # @return [Boolean] the test was begun: a hose was on the assembly
      def begun? = @step_marks.by_hand? || !@chronicle.first_put_on_s.nil?

      # @param component [Symbol]
      # @return [Boolean] nothing recorded of it was marked down
      def sound?(component) =
        lines.none? { |line| line.lost? && @procedure.items[line.about].component == component }

      private

      def wanted?(item)
        recorded = @report.values.key?(item.id)
        return recorded if item.optional?

        (@truth.values.key?(item.id) || recorded) && !serves_already?(item) && (recorded || !called_off?(item))
      end

      # What this tester saw ended the test before it: rightly seen or not, that is marked where it was seen.
      def called_off?(item) = item.called_off_by.any? { |other, words| @report.values[other.to_sym] == words }

      # An apparent value that cannot be confirmed serves, in its own field or in that of the confirmed one.
      def serves?(item) = @procedure.apparent_serves? && !@truth.values.key?(item.gives_way_to)

      # The field of the confirmed value holds the apparent one, where that serves: one reading, one line.
      def serves_already?(item)
        apparent = apparent_of(item)
        return false unless apparent && serves?(apparent)

        own, other = [apparent, item].map { |one| Procedures::Item.number(@report.values[one.id]) }
        own.nil? || own == other
      end

      def apparent_of(item) = @procedure.items.values.find { |one| one.gives_way_to == item.id }

      # @return [String, nil] as recorded, in whichever field may hold it
      def recorded(item)
        own = @report.values[item.id]
        (own.nil? && item.gives_way_to && serves?(item)) ? @report.values[item.gives_way_to] : own
      end

      # --- readings

      def reading(item)
        value = recorded(item)
        number = item.line_pressure? ? Written.psi(value) : Procedures::Item.number(value)
        return words(item, value) if item.choices.key?(value) || item.choices.key?(@truth.values[item.id])
        return nothing(item, value) if number.nil?

        compare(item, number)
      end

      def nothing(item, value)
        said = value.to_s.strip.empty? ? Remark.new(:nothing_recorded) : Remark.new(:no_number, typed: value)
        own = steps_of(item)
        return not_seen(item) unless own.empty? || own.any? { |step| @step_marks.tried?(step) }
        return not_seen(item) if value.nil? && awaited?(item) && !happened?(item) && !@step_marks.by_hand?

        return not_seen(item) if value.nil? && stood_at_stop?(item)

        line(item, :reading_missing, said, nil)
      end

      def compare(item, number)
        return against_truth(item, number) if @step_marks.by_hand?

        moment, shown, elsewhere = reference(item)
        return line(item, :never_shown, frozen(number, elsewhere), elsewhere) if elsewhere
        return line(item, nil, showed(shown, number), moment) if shown && close?(item, shown, number)

        stood = stood_unnoted(item, number)
        return line(item, nil, Remark.new(:recorded, psid: number), stood) if stood
        if shown && apparent?(item, number) && !(disturbed? && truly?(item, number))
          return line(item, :apparent_as_confirmed, showed(shown, number), moment)
        end

        seen = moment_shown(item, number)
        read = seen ? nil : read_elsewhere(item, number)
        # What the gauge showed as it was written down is nobody's invention, wherever the hoses were.
        return line(item, misread(item), showed(read.last, number), read.first, earned: 0) if read

        said = seen ? showed(shown, number) : never(number)
        return line(item, mistake_of(item, seen, moment), said, seen || moment) unless truly?(item, number)

        true_and_not_shown(item, seen, moment, said)
      end

      # It would have been read here, had what is named already not changed it, or not been left out: it earns nothing,
      # and is not named a second time. Whoever left the step out has invented it all the same.
      def true_and_not_shown(item, seen, moment, said)
        return line(item, nil, said, nil, earned: 0, outright: :never_shown) if tries(item).empty? && left_out?(item)

        # A disturbance explains a number that the gauge showed another time. One that it never showed is made up.
        mistake = disturbed? ? nil : mistake_of(item, seen, moment)
        line(item, mistake, said, seen || moment, earned: 0, outright: (:never_shown if seen.nil?))
      end

      # Where a step of it is marked down, that says why; else it was read at the wrong moment.
      def misread(item) = (steps_of(item).any? { |step| @step_marks.marked_down?(step) }) ? nil : :read_before_steady

      # A note of this number that the gauge showed as it was made, in no try of its step.
      #
      # @return [Array(Float, Float), nil] moment and what was shown
      def read_elsewhere(item, number)
        return if event?(item)

        @chronicle.notes(item.id).reverse_each do |note|
          next unless Procedures::Item.number(note.value) == number

          psid = shown(item, note.at_s)
          return [note.at_s, psid] if psid && close?(item, psid, number)
        end
        nil
      end

      def left_out?(item) = steps_of(item).any? { |step| @truth.steps.include?(step.id) }

      def disturbed? =
        @step_marks.lines.filter_map(&:mistake).intersect?(@chronicle.variant.station.catalog.disturbing)

      def truly?(item, number)
        wanted = Procedures::Item.number(@truth.values[item.id])
        !wanted.nil? && close?(item, wanted, number)
      end

      # Without a note the needle may have been read whenever it stood for a while.
      def stood_unnoted(item, number)
        return if event?(item) || noted(item, tries(item))

        moment_shown(item, number, for_s: STOOD_S)
      end

      def mistake_of(item, seen, moment)
        return :never_shown if seen.nil?
        return :read_before_steady unless event?(item)

        return :opening_read_late unless moment.nil? || seen < moment

        # What drips a little hangs from a relief port; a poppet either lifts or does not.
        (step_of(item).event == :relief_valve) ? :residual_drip : :reading_off
      end

      # No gauge was on record beside a real bench: what a correct tester reads at such a station is what there is to
      # go by.
      def against_truth(item, number)
        wanted = Procedures::Item.number(@truth.values[item.id])
        right = wanted && close?(item, wanted, number)
        line(item, right ? nil : :reading_off, Remark.new(:called_out, psid: number), nil)
      end

      # When this item was there to be read, and what the gauge then showed: the moment jotted, or that at which what
      # was jotted was frozen; else the discharge, else the last steady moment of its set-up.
      #
      # @return [Array(Float, Float, Float)] moment, what was shown, and where it was frozen if that was elsewhere
      def reference(item)
        tries = tries(item)
        return [] if tries.empty?
        return event_reference(item, tries) if event?(item)

        attempted, note = noted(item, tries)
        return [last_moment(tries), shown(item, last_moment(tries))] unless note

        taken = @chronicle.taken_s(note)
        return [note.at_s, shown(item, note.at_s), taken] if taken < attempted.from_s - 0.01

        [taken, @chronicle.kept(note)&.first || shown(item, note.at_s)]
      end

      # The last note that was made in a try, with that try.
      def noted(item, tries)
        tries
          .filter_map { |one| @chronicle.note_in(item.id, one)&.then { |note| [one, note] } }
          .max_by { |_, note| note.at_s }
      end

      def last_moment(tries) = tries.map(&:until_s).max - 0.001

      def event_reference(item, tries)
        tries.reverse_each do |attempted|
          moment = @chronicle.first_discharge(step_of(item).event, attempted.first, attempted.last)
          return moment, readable(moment) { @chronicle.needle_at(moment) } if moment
        end
        []
      end

      def event?(item) = !step_of(item)&.event.nil?

      # A needle against its stop gives nothing to write down; what kept it there is named.
      def stood_at_stop?(item)
        return false if @step_marks.by_hand? || item.line_pressure? || tries(item).empty?

        disturbed? && tries(item).all? { |one| @chronicle.pegged_at?(one.until_s - 0.01) }
      end

      # Only what happens at the bench gives it something to record.
      def awaited?(item)
        return true if event?(item)

        acts = steps_of(item).select { |step| @truth.steps.include?(step.id) }.flat_map(&:acts)
        chosen = acts.select { |act| act[:choose]&.key?(item.id) }
        chosen.any? && chosen.all? { |act| act.key?(:if_event) }
      end

      def happened?(item) =
        tries(item).any? do |attempted|
          event = attempted.step.event
          event && @chronicle.first_discharge(event, attempted.first, attempted.last)
        end

      def step_of(item) = item.step && @procedure.step(item.step)

      # Steps in which a tester reads or sees it.
      def steps_of(item)
        name = item.id.to_s
        @procedure.steps.select do |step|
          step.id == item.step || step.acts.any? { |act| act[:jot] == name || act[:choose]&.key?(item.id) }
        end
      end

      def tries(item)
        steps_of(item)
          .select { |step| step.situation && (!event?(item) || step.event) }
          .flat_map { |step| @step_marks.tries(step) }
          .sort_by(&:first)
      end

      # It could be read or seen: one of its steps was tried, or what is seen at rest was looked at.
      def in_place?(item)
        return true if item.at_rest && looked?

        steps = steps_of(item)
        steps.empty? || steps.any? { |step| @step_marks.tried?(step) }
      end

      # A port that was looked at from outside says nothing of the part yet.
      def worked_for?(item) = item.at_rest ? steps_of(item).any? { |step| @step_marks.tried?(step) } : in_place?(item)

      # A port is seen by whoever looks at it, or at all joints.
      SIGHTS_OF_A_PORT = %i[relief_port leaks].freeze
      private_constant :SIGHTS_OF_A_PORT

      def looked? = @chronicle.last_state.looked.intersect?(SIGHTS_OF_A_PORT)

      # Any moment at which the needle could be read as this value while the set-up for it stood: what it only flew past
      # nobody has read.
      #
      # @param for_s [Float] seconds for which it stood there
      def moment_shown(item, number, for_s: event?(item) ? 0.0 : READ_S)
        tries(item).each do |attempted|
          moment = attempted.entries.filter_map { |index| dwelt(item, index, number, for_s) }.first
          return moment if moment
        end
        nil
      end

      # @return [Float, nil] when the needle had stayed within tolerance of a value for long enough, during one act
      def dwelt(item, index, number, for_s)
        span = @chronicle.span(index)
        since = nil
        span.trajectory.frame_times(@chronicle.from_s(index), @chronicle.to_s_at(index)).each do |time|
          near = (stood_at(item, span, time) - number).abs <= tolerance(item) + 0.05
          since = near ? since || time : nil
          return time if since && time - since >= for_s
        end
        nil
      end

      # The value read before check valve 2 was known to be tight, written where the confirmed one belongs.
      def apparent?(item, number)
        apparent = apparent_of(item) or return false
        value = Procedures::Item.number(@report.values[apparent.id])
        _, shown = reference(apparent)
        value && shown && (value - number).abs < 0.05 && close?(apparent, shown, number)
      end

      # --- words

      # An item whose result is in words, such as “did not open”.
      def words(item, value)
        expected = @truth.values[item.id]
        return nothing(item, value) if value.nil?
        return not_seen(item, value) unless in_place?(item)
        return line(item, nil, Remark.new(:recorded_words, typed: value), nil) if value == expected

        mistake = item.choices.key?(value) ? :observation_wrong : :never_shown
        line(item, mistake, Remark.new(:recorded_words, typed: value), nil)
      end

      def observation(item)
        value = @report.values[item.id]
        return nothing(item, value) if value.nil?
        return not_seen(item, value) unless in_place?(item)

        happened = Remark.new(:recorded_words, typed: value)
        return line(item, nil, happened, nil) if fitting?(item, value)

        line(item, @truth.values[item.id] ? :observation_wrong : :never_shown, happened, nil)
      end

      # What a correct tester sees here, or what this tester's own bench gave to see.
      def fitting?(item, value)
        value == @truth.values[item.id] || value == Seen.new(@chronicle, item).words(tries(item), watched_s(item))
      end

      # It says something of a part, or that its readings do not count.
      def decides?(item) = item.judges? || item.choices.value?(:void)

      # @return [Float] for how long a correct tester watches for it at this station
      def watched_s(item)
        step = steps_of(item).find { |one| @truth.steps.include?(one.id) && @truth.run.moments[one.id] }
        step ? @truth.end_of(step.id) - @truth.run.moments[step.id] : 0.0
      end

      # --- lines

      # Written down without having been there to see: the step left out is what is named, and what was written of a
      # part all the same is as invented as a number would be.
      def not_seen(item, value = nil)
        said = value ? Remark.new(:recorded_unseen, typed: value) : Remark.new(:nothing_to_record)
        invented = value && left_out?(item) && item.at_rest.nil? && decides?(item)
        line(item, left_out?(item) ? nil : :never_shown, said, nil, earned: 0, outright: (:never_shown if invented))
      end

      # What the instrument showed: the differential gauge, or for a line pressure the plain gauge.
      def shown(item, time)
        span = @chronicle.replay.span_at(time - 0.001)
        item.line_pressure? ? span.pressure_at(time - 0.001, :line_gauge) : span.shown_at(time - 0.001)
      end

      # Where the needle stood, whatever a face had frozen: nowhere, on one that showed nothing.
      def stood_at(item, span, time)
        return span.pressure_at(time, :line_gauge) if item.line_pressure?

        span.face.shows?(time) ? span.needle_at(time) : Float::INFINITY
      end

      def readable(time) = @chronicle.replay.span_at(time).face.shows?(time) ? yield : nil

      def tolerance(item) = item.line_pressure? ? LINE_TOLERANCE_PSI : @policy.tolerance_psid

      # Within tolerance as read, that is to the next graduation.
      def close?(item, shown, number) = (shown - number).abs <= tolerance(item) + 0.05

      def showed(shown, number) =
        if shown
          Remark.new(:recorded_and_shown, recorded_psid: number, shown_psid: shown)
        else
          Remark.new(:recorded, psid: number)
        end

      def never(number) = Remark.new(:recorded_never_shown, psid: number)

      def frozen(number, moment) = Remark.new(:frozen_elsewhere, psid: number, clock: Units.clock(moment))

      def line(item, mistake, happened, moment, earned: nil, outright: nil)
        Line.new(
          section: :readings,
          id: item.id,
          points: POINTS,
          earned: earned || (mistake ? 0 : POINTS),
          mistake: mistake,
          at_s: moment,
          expected: expectation(item),
          happened: happened,
          outright: outright
        )
      end

      def expectation(item)
        value = @truth.values[item.id]
        return Remark.new(:not_to_be_had) unless value

        if item.reading? && Procedures::Item.number(value)
          Remark.new(:about, value: value, unit: item.unit)
        else
          Remark.new(:these_words, typed: value)
        end
      end
    end
  end
end
