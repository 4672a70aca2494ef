# frozen_string_literal: true

module Nurv
  module Grading
    # Marks the paper: identification, completeness, and notebook against report.
    class RecordMarks
      # @param chronicle [Chronicle]
      # @param report [Reports::FieldReport]
      # @param stopped [Boolean] the test was forbidden, so no kit was used
      # @param repaired [Boolean] something was mended, so it must be written down
      def initialize(chronicle, report, stopped: false, repaired: false)
        @repaired = repaired
        @chronicle = chronicle
        @report = report
        @stopped = stopped
        @station = chronicle.variant.station
      end

      # @return [Array<Line>]
      def lines =
        [
          identification,
          (@stopped ? nil : kit),
          (@station.meter ? meter : nil),
          (line_pressure if asks?(:line_pressure)),
          (shutoffs if asks?(:shutoffs)),
          (particulars if asks?(:particulars)),
          completeness,
          notebook
        ].compact

      # The last note of an item must be what the report says.
      def notebook
        differing =
          @report.values.keys.select do |item|
            note = @chronicle.notes(item).last
            note && !agree?(note.value, @report.values[item])
          end
        moment = differing.filter_map { |item| @chronicle.notes(item).last&.at_s }.first
        build(:notebook, 10, differing, :notebook_differs, moment)
      end

      private

      # Read off a plain gauge at a line that moves a little.
      LINE_WITHIN_PSI = 5.0
      private_constant :LINE_WITHIN_PSI

      def asks?(what) = !@stopped && @chronicle.procedure.asks?(what)

      def line_pressure
        typed = @report.fields[:line_pressure]
        psi = Written.psi(typed)
        right = psi && (psi - @chronicle.variant.pressure_psi).abs <= LINE_WITHIN_PSI + @chronicle.variant.swing_psi
        blank = typed.to_s.strip.empty?
        build(:line_pressure, 3, right ? [] : %i[line_pressure], blank ? :record_incomplete : :record_wrong)
      end

      # As the bench was found, and as it was left.
      def shutoffs
        wanted = {shutoffs_found: @chronicle.replay.first.state, condition_left: @chronicle.replay.last.state}
        wrong = wanted.reject { |field, state| @report.fields[field].to_s == standing(state).to_s }.keys
        blank = wrong.all? { |field| @report.fields[field].to_s.strip.empty? }
        build(:shutoffs, 3, wrong, blank ? :record_incomplete : :record_wrong)
      end

      # As the work order has it, and as the clock ran from the tester's arrival.
      def particulars
        order = @station.work_order
        wrong = Reports::FieldReport::PARTICULARS.reject { |field| particular?(field, @report.fields[field], order) }
        blank = wrong.select { |field| @report.fields[field].to_s.strip.empty? }
        build(:particulars, 5, wrong, (wrong - blank).any? ? :record_wrong : :record_incomplete)
      end

      def particular?(field, typed, order)
        case field
        when :type then names_of_type(order).any? { |name| same?(typed, name) }
        when :due_date then same_date?(typed, order[:due_date])
        when :time_in then near?(typed, order[:arrival], 0.0)
        when :time_out then near?(typed, order[:arrival], @chronicle.replay.last.from_s / 60.0)
        else same?(typed, order[field])
        end
      end

      def names_of_type(order) = [order[:type], @station.assembly.short, @station.assembly.name]

      def same_date?(given, wanted)
        date = Written.date(given)
        !date.nil? && date == Written.date(wanted)
      end

      # Hands of a clock are read roughly, min.
      WITHIN_MIN = 15
      CLOCK = /\A(\d{1,2})[:.h ]?(\d{2})\s*(a\.?m\.?|p\.?m\.?)?\z/i
      private_constant :WITHIN_MIN, :CLOCK

      def near?(typed, arrival, later_min)
        given, from = [typed, arrival].map { |text| minute_of_day(text) }
        given && (given - from - later_min).abs <= WITHIN_MIN
      end

      def minute_of_day(text)
        found = CLOCK.match(text.to_s.strip) or return
        hours = found[1].to_i
        afternoon = found[3] ? found[3].downcase.start_with?("p") : hours >= 12
        (hours % 12 + (afternoon ? 12 : 0)) * 60 + found[2].to_i
      end

      def standing(state) =
        Reports::FieldReport.standing(@station.assembly.shutoff_valves.map { |valve| state.open?(valve) })

      def meter
        wrong =
          {meter_number: :number, meter_reading: :reading}.reject do |field, key|
            same?(@report.fields[field], @station.meter[key])
          end
            .keys
        blank = wrong.select { |field| @report.fields[field].to_s.strip.empty? }
        build(
          :meter,
          3,
          wrong,
          (wrong - blank).any? ? :record_wrong : :record_incomplete
        )
      end

      def identification
        wrong = Reports::FieldReport::IDENTITY.reject { |field| same?(@report.fields[field], @station.plate[field]) }
        blank = wrong.select { |field| @report.fields[field].to_s.strip.empty? }
        build(
          :identification,
          10,
          wrong,
          (wrong - blank).any? ? :record_wrong : :record_incomplete
        )
      end

      def kit
        wanted = {kit_serial: @station.kit_state[:serial], kit_checked: @station.kit_state[:checked_on]}
        wrong = wanted.keys.reject { |field| same?(@report.fields[field], wanted[field]) }
        wrong -= [:kit_checked] if same_date?(@report.fields[:kit_checked], wanted[:kit_checked])
        blank = wrong.select { |field| @report.fields[field].to_s.strip.empty? }
        build(
          :kit,
          5,
          wrong,
          (wrong - blank).any? ? :record_wrong : :record_incomplete
        )
      end

      def completeness
        blank =
          (%i[notified signature] + (@repaired ? %i[repairs] : [])).select do |field|
            @report.fields[field].to_s.strip.empty?
          end
        build(:completeness, 5, blank, :record_incomplete)
      end

      def agree?(noted, reported)
        numbers = [noted, reported].map { |text| Procedures::Item.number(text) }
        return (numbers[0] - numbers[1]).abs < 0.05 if numbers.all?

        same?(noted, reported)
      end

      def same?(given, wanted) = normal(given) == normal(wanted)

      def normal(text) = text.to_s.downcase.gsub(/[^a-z0-9.]/, "")

      # What is expected of each part of the paper is called as the part itself.
      #
      # @param wrong [Array<Symbol>] fields
      def build(id, points, wrong, mistake, moment = nil)
        Line.new(
          section: :records,
          id: id,
          points: points,
          earned: wrong.empty? ? points : 0,
          mistake: wrong.empty? ? nil : mistake,
          at_s: moment,
          expected: Remark.new(:"expected_#{id}"),
          happened: wrong.empty? ? Remark.new(:as_it_should_be) : Remark.new(:not_right, fields: wrong)
        )
      end
    end
  end
end
