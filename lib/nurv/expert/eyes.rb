# frozen_string_literal: true

module Nurv
  module Expert
    # What a tester sees at a bench and waits for: the part of a run that looks and does nothing.
    module Eyes
      # A needle that stands as high as this is against its stop, psid, and says nothing.
      PEGGED_PSID = 15.0
      # Water that stands so far below a tube's brim has sunk, inches.
      SUNK_IN = 0.4

      # What a tester watches for: a relief port that drips or more, as the bench draws it, or a poppet that lifts.
      def self.happens?(span, event, time)
        return span.trajectory.air_inlet_at(time) > 0.02 if event == :air_inlet

        drips?(span, event, time)
      end

      # @return [Boolean] water leaves there that the bench draws: a drop at least
      def self.drips?(span, port, time) = span.flow_at(time, port) >= Bench::Flow::LEAST[:drip]

      # Water through a leak grows with the root of the pressure behind it, and with it what the needle falls.
      #
      # @param psid [Float]
      # @param at_line_psi [Numeric, nil] line pressure for which that was said; nil: whatever the line pressure
      # @param line_psi [Float]
      # @return [Float] psid at this line pressure
      def self.limit_psid(psid, at_line_psi, line_psi) =
        at_line_psi ? psid * Math.sqrt(line_psi.fdiv(at_line_psi)) : psid

      private

      def sees?(name, value, all)
        EYES.fetch(name).bind_call(self, value, all)
      end

      def steady?(_value, _all)
        rule = procedure.steady
        return false if @time_s - @waiting_since < rule[:over_s]

        readings = window(rule[:over_s])
        readings.max - readings.min <= rule[:within_psid]
      end

      # Has stopped moving, wherever that is.
      def settled?(_value, _all)
        return false if @time_s - @waiting_since < 10.0 || span.needle_at(@time_s) >= PEGGED_PSID

        readings = window(5.0)
        readings.max - readings.min <= 0.02
      end

      def window(seconds)
        first = [@time_s - seconds, span.from_s].max
        (0..10).map { |part| span.needle_at(first + (@time_s - first) * part / 10.0) }
      end

      def bled?(hoses, _all)
        hoses.all? { |hose| span.air_in_hose(hose.to_sym, @time_s) <= procedure.bleed_air_share * 0.6 }
      end

      def discharge_within(port, seconds)
        span.trajectory.first_time(@time_s, @time_s + seconds) { |time| Eyes.happens?(span, port, time) }
      end

      def fallen_since?(mark, all)
        limit_psid = Eyes.limit_psid(all.fetch(:by_psid), all[:at_line_psi], @variant.pressure_psi)
        @round.marks.fetch(mark.to_sym) - span.needle_at(@time_s) >= limit_psid
      end

      def risen_since?(mark, all) = span.needle_at(@time_s) - @round.marks.fetch(mark.to_sym) >= all.fetch(:by_psid)

      def swinging?(psid, _all)
        readings = window(10.0)
        readings.max - readings.min > psid
      end

      def wet?(port, _all) = Eyes.drips?(span, port.to_sym, @time_s)

      # For a second, not just at one moment.
      def dry?(port, _all) =
        [0.0, 0.4, 0.8].none? { |back| Eyes.drips?(span, port.to_sym, [@time_s - back, span.from_s].max) }

      # Its water stands lower than its brim, by more than a dome is high.
      def sunk?(tube, _all) =
        span.pressure_at(@time_s, tube.to_sym) < Units.head_psi(
          variant.station.assembly.tube_top_in(span.state.fittings.fetch(tube.to_sym)) - SUNK_IN
        )

      def sucking?(cock, _all) = span.sucking_at?(@time_s, cock.to_sym)

      def poppet?(share, _all) = span.trajectory.air_inlet_at(@time_s) * span.network.air_inlet.area >= share

      def above_by?(psi, all)
        first, second = all.fetch(:lines).map { |item| Written.psi(@round.values[item.to_sym]) }
        !first.nil? && !second.nil? && second - first > psi
      end

      def recorded_below?(limits, _all) =
        limits.all? { |item, limit| (number = Procedures::Item.number(@round.values[item])) && number < limit }

      def below?(psid, _all) = span.needle_at(@time_s) < psid

      def above?(psid, _all) = span.needle_at(@time_s) >= psid

      EYES = {
        steady: instance_method(:steady?),
        settled: instance_method(:settled?),
        bled: instance_method(:bled?),
        discharging: instance_method(:wet?),
        fallen_since: instance_method(:fallen_since?),
        risen_since: instance_method(:risen_since?),
        swinging_psid: instance_method(:swinging?),
        needle_below_psid: instance_method(:below?),
        needle_above_psid: instance_method(:above?),
        wet: instance_method(:wet?),
        dry: instance_method(:dry?),
        sunk: instance_method(:sunk?),
        sucking: instance_method(:sucking?),
        poppet: instance_method(:poppet?),
        recorded_below: instance_method(:recorded_below?),
        above_by_psi: instance_method(:above_by?)
      }.freeze
      private_constant :EYES
    end
  end
end
