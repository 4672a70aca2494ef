# frozen_string_literal: true

module Nurv
  module Grading
    # Marks what was recorded against what the gauge showed this tester, and observations against what was there to
    # see.
    class ReadingMarks
      # @param report [Reports::FieldReport]
      # @param step_marks [StepMarks]
      def initialize(chronicle, truth, report, step_marks, policy)
        @chronicle = chronicle
        @truth = truth
        @report = report
        @step_marks = step_marks
        @policy = policy
      end

      # @return [Array<Line>] one per item that this station's test yields, and one per reading invented beyond them
      def lines
        expected =
          @truth.procedure.items.values.select { |item| @truth.values.key?(item.id) || @report.values.key?(item.id) }
        expected
          .reject { |item| item.optional? && !@report.values.key?(item.id) }
          .map { |item| item.reading? ? reading(item) : observation(item) }
      end

      private

      def reading(item)
        recorded = @report.values[item.id]
        number = Procedures::Item.number(recorded)
        return words(item, recorded) if item.choices.key?(recorded) || item.choices.key?(@truth.values[item.id])
        return line(item, :reading_missing, Remark.new(:nothing_recorded), nil) if recorded.nil?
        return line(item, :reading_missing, Remark.new(:no_number, typed: recorded), nil) if number.nil?

        compare(item, number)
      end

      def compare(item, number)
        return against_truth(item, number) if @step_marks.by_hand?

        moment, shown = reference(item)
        return line(item, nil, showed(shown, number), moment) if shown && close?(item, shown, number)
        return line(item, :apparent_as_confirmed, showed(shown, number), moment) if shown && apparent?(item, number)

        seen = moment_shown(item, number)
        mistake =
          if seen.nil?
            :never_shown
          elsif event?(item)
            (moment.nil? || seen < moment) ? :residual_drip : :opening_read_late
          else
            :read_before_steady
          end
        line(item, mistake, seen ? showed(shown, number) : never(number), seen || moment)
      end

      # No gauge was on record beside a real bench: what a correct tester reads at such a station is what there is to
      # go by.
      def against_truth(item, number)
        wanted = Procedures::Item.number(@truth.values[item.id])
        line(
          item,
          (wanted && close?(item, wanted, number)) ? nil : :reading_off,
          Remark.new(:called_out, psid: number),
          nil
        )
      end

      # When this item was there to be read, and what the gauge then showed: the moment jotted, else the discharge,
      # else the last steady moment of its set-up.
      def reference(item)
        passages = passages(item)
        return if passages.empty?
        return event_reference(item, passages) if event?(item)

        note = @chronicle.notes(item.id).last
        within =
          note &&
          passages.any? do |first, last|
            note.at_s.between?(@chronicle.from_s(first), @chronicle.to_s_at(last) + 0.01)
          end
        moment = within ? note.at_s : @chronicle.to_s_at(passages.last[1])
        [moment, shown(item, @chronicle.replay.span_at(moment - 0.001), moment - 0.001)]
      end

      def event_reference(item, passages)
        passages.reverse_each do |first, last|
          moment = @chronicle.first_discharge(step_of(item).event, first, last)
          return moment, @chronicle.needle_at(moment) if moment
        end
        nil
      end

      def event?(item) = !step_of(item)&.event.nil?

      def step_of(item) = item.step && @truth.procedure.step(item.step)

      def passages(item)
        steps =
          @truth.procedure.steps.select do |step|
            step.situation &&
              (
                step.id == item.step ||
                  (
                    event?(item) && step.event == step_of(item).event &&
                      step.acts.any? { |act| act[:jot] == item.id.to_s }
                  )
              )
          end
        steps.flat_map { |step| @step_marks.situations(step) }.sort
      end

      # Any moment at which the needle stood at this value while the set-up for it stood.
      def moment_shown(item, number)
        passages(item).each do |first, last|
          (first..last).each do |index|
            span = @chronicle.span(index)
            times = span.trajectory.frame_times(@chronicle.from_s(index), @chronicle.to_s_at(index))
            times.each_cons(2) do |early, late|
              low, high = [shown(item, span, early), shown(item, span, late)].minmax
              return late if number.between?(low - tolerance(item), high + tolerance(item))
            end
          end
        end
        nil
      end

      # The value read before check valve 2 was known to be tight, written where the confirmed one belongs.
      def apparent?(item, number)
        apparent = @truth.procedure.apparent_item
        return false unless apparent && apparent.gives_way_to == item.id

        recorded = Procedures::Item.number(@report.values[apparent.id])
        _, shown = reference(apparent)
        recorded && shown && (recorded - number).abs < 0.05 && close?(apparent, shown, number)
      end

      # An item whose result is in words, such as “did not open”.
      def words(item, recorded)
        expected = @truth.values[item.id]
        return line(item, nil, Remark.new(:recorded_words, typed: recorded), nil) if recorded == expected
        return line(item, :reading_missing, Remark.new(:nothing_recorded), nil) if recorded.nil?

        mistake = item.choices.key?(recorded) ? :observation_wrong : :never_shown
        line(item, mistake, Remark.new(:recorded_words, typed: recorded), nil)
      end

      def observation(item)
        recorded = @report.values[item.id]
        expected = @truth.values[item.id]
        return line(item, :reading_missing, Remark.new(:nothing_recorded), nil) if recorded.nil?

        happened = Remark.new(:recorded_words, typed: recorded)
        return line(item, nil, happened, nil) if recorded == expected

        line(item, expected ? :observation_wrong : :never_shown, happened, nil)
      end

      # What the instrument showed: the differential gauge, or for a line pressure the plain gauge.
      def shown(item, span, time) = item.line_pressure? ? span.pressure_at(time, :line_gauge) : span.shown_at(time)

      # A plain gauge is read to 2 psi.
      def tolerance(item) = item.line_pressure? ? 2.0 : @policy.tolerance_psid

      # Within tolerance as read, that is to the next graduation.
      def close?(item, shown, number) = (shown - number).abs <= tolerance(item) + 0.051

      def showed(shown, number) =
        if shown
          Remark.new(:recorded_and_shown, recorded_psid: number, shown_psid: shown)
        else
          Remark.new(:recorded, psid: number)
        end

      def never(number) = Remark.new(:recorded_never_shown, psid: number)

      def line(item, mistake, happened, moment)
        Line.new(
          section: :readings,
          id: item.id,
          points: 10,
          earned: mistake ? 0 : 10,
          mistake: mistake,
          at_s: moment,
          expected: expectation(item),
          happened: happened
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
