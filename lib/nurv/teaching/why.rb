# frozen_string_literal: true

module Nurv
  module Teaching
    # Why the needle does what it does: in two or three sentences, from the flows of the network at that moment.
    #
    # A side whose pressure moves gains what its flows bring less what they take, and a psi of it is worth its
    # capacitance. Nothing here knows a station, a fault or a procedure.
    class Why
      # Air in a hose is spoken of from this share on; a drop that lags behind, from this psid.
      AIR_TOLD = 0.05
      LAGS_PSID = 0.3
      # A needle's pace is that of so many s, and so little of it is none, psid/s.
      GLANCE_S = 0.2
      STANDS_PSID_PER_S = 0.01
      # A needle so near its lower stop lies on it, psid.
      AT_STOP_PSID = 0.05
      # An inch or less is level.
      LEVEL_IN = 1.0

      attr_reader :high, :low

      # @param span [Bench::Span]
      # @param time_s [Float] simulated seconds, not before the span's act
      # @param open [Boolean] what is hidden inside may be named: with the inside shown, and when all is over
      def initialize(span, time_s, open: true)
        @span = span
        @time_s = time_s
        @open = open
        now = Side.moment(span, time_s)
        gauge = span.network.gauge
        @high, @low = [gauge.high, gauge.low].map { |chamber| Side.new(span, time_s, chamber, now) }
        @now = now
      end

      # @return [Float] psid where the needle stands
      def needle_psid = @span.needle_at(@time_s)

      # @return [Float] psid/s at which the needle runs
      def rate_psid_s = (@span.needle_at(@time_s + GLANCE_S) - needle_psid) / GLANCE_S

      # @return [Array<Remark>] sentences in the order in which they are said
      def remarks = [needle, *sides, *notes]

      private

      def needle
        return Remark.new(:why_pegged) if pegged?
        if rate_psid_s.abs < STANDS_PSID_PER_S
          return Remark.new((@high.still? && @low.still?) ? :why_stands : :why_together, psid: needle_psid)
        end

        Remark.new((rate_psid_s > 0) ? :why_rises : :why_falls, psid: needle_psid, rate_psid: rate_psid_s.abs)
      end

      def sides
        # Both feel one place: neither the one nor the other is to be spoken of.
        return [Remark.new(:why_one_place, side: side_name(@high))] if @high.name && @high.name == @low.name

        [@high, @low].reject { |side| side.equal?(@low) && open_port? }.map { |side| of(side) }
      end

      def pegged? =
        needle_psid >= Expert::Eyes::PEGGED_PSID || needle_psid < Hydraulics::Gauge::BOTTOM_PSID + AT_STOP_PSID

      # With one hose the other port stands open to air.
      def open_port? = @span.variant.station.kit.open_ports.any? { |node| @span.network.index[node] == gauge.low }

      def gauge = @span.network.gauge

      def side_name(side) = side.name || (side.equal?(@high) ? :high_side : :low_side)

      def of(side)
        name = side_name(side)
        return Remark.new(:why_main, side: name) if side.fed_by_main?
        return Remark.new(:why_hose_free, hose: hose_of(side)) if side.cut_off? && free?(side)
        return hidden(side, name) if !@open && side.flows.any?(&:shut)
        return still(side, name) if side.flows.empty?
        return Remark.new(:why_balanced, side: name, ways_in: ways(side, 1), ways_out: ways(side, -1)) if side.balanced?

        moving(side, name)
      end

      # Its hose is on nothing.
      def free?(side)
        hose = hose_of(side)
        hose && @span.state.hose_ends[hose] == :free
      end

      # @return [Symbol, nil] the hose that a side of the gauge hangs on
      def hose_of(side)
        node = side.equal?(@high) ? gauge.high : gauge.low
        @span.network.hoses.find { |hose| hose.node == node }&.id
      end

      def still(side, name)
        return Remark.new(:why_cut_off, side: name) if side.cut_off?
        return Remark.new(:why_dragged, side: name, rate_psid: side.rise_psi_s) unless side.still?

        Remark.new(:why_shut, side: name, remark: kept_in(side))
      end

      def moving(side, name)
        values = {side: name, rate_psid: side.rise_psi_s.abs, per_psi_ml: side.capacitance_ml_psi}
        coming, going = ways(side, 1), ways(side, -1)
        if side.net_ml_s.positive?
          return Remark.new(:why_gains, **values, ways_in: coming, ways_out: going) if going.any?

          Remark.new(:why_gains_only, **values, ways_in: coming, remark: kept_in(side))
        else
          return Remark.new(:why_loses, **values, ways_in: coming, ways_out: going) if coming.any?

          Remark.new(:why_loses_only, **values, ways_out: going, remark: kept_in(side))
        end
      end

      def kept_in(side)
        return Remark.new(:why_nothing_else) if side.shut.empty?

        Remark.new((side.shut.size > 1) ? :why_are_shut : :why_is_shut, parts: side.shut)
      end

      # Something gives way that ought to hold, and nobody has opened it: that is for the tester to find.
      def hidden(side, name)
        asked = (side.shut + side.flows.select(&:shut).map(&:way)).sort
        seen = side.told.reject(&:shut)
        return Remark.new(:why_where, side: name, candidates: asked) if seen.empty?

        coming, going = seen.partition { |flow| flow.ml_s > 0.0 }.map { |flows| pairs(flows) }
        return Remark.new(:why_where_out, side: name, ways_in: coming, candidates: asked) if going.empty?
        return Remark.new(:why_where_in, side: name, ways_out: going, candidates: asked) if coming.empty?

        Remark.new(:why_where_both, side: name, ways_in: coming, ways_out: going, candidates: asked)
      end

      def ways(side, sign) = pairs(side.told.select { |flow| flow.ml_s * sign > 0.0 })

      def pairs(flows) = flows.map { |flow| [flow.way, flow.ml_s.abs.round(2), flow.shut, flow.air, flow.ml_s > 0.0] }

      def notes = [running_check, height, air, lag].compact

      # What a check shows while water runs through it says nothing of its seat.
      def running_check
        check =
          @span.variant.station.assembly.components.find do |part|
            edge = @span.network.edge(part)
            edge.is_a?(Hydraulics::CheckValve) && edge.flow(@now.pressures) > Side::LEAST_ML_S &&
              measured?(edge)
          end
        Remark.new(:why_check_runs, parts: [check]) if check && (@open || !leaks_shut?(check))
      end

      def leaks_shut?(part) = [@high, @low].any? { |side| side.flows.any? { |flow| flow.way == part && flow.shut } }

      # The gauge hangs across it.
      def measured?(edge)
        [[@high, edge.from], [@low, edge.to]].all? do |side, node|
          side.name && @span.network.index[side.name] == node
        end
      end

      # With one hose its height is part of the reading.
      def height
        return unless open_port? || free?(@low)

        nearest = heights.min_by { |level| off_in(level).abs }
        off = off_in(nearest)
        return if off.abs <= LEVEL_IN

        Remark.new(
          (off < 0) ? :why_hangs_low : :why_hangs_high,
          inches: off.abs,
          level: nearest.id,
          by_psid: Units.head_psi(off).abs
        )
      end

      # Water that stands open to the air is what the gauge is to be level with; where none does, whatever is told of
      # this assembly.
      def heights
        assembly = @span.variant.station.assembly
        state = @span.state
        tube = state.fittings[:sight_tube]
        return [assembly.levels.fetch(:"tube_on_#{tube}")] if tube

        open = assembly.test_cocks.keys.select { |cock| state.open?(cock) && state.on_test_cock(cock).nil? }
        open.empty? ? assembly.told_levels : open.map { |cock| assembly.levels.fetch(:"#{cock}_outlet") }
      end

      def off_in(level) = @span.state.gauge_in - level.elevation_in

      def air
        side = [@high, @low].reject { |one| free?(one) }.max_by(&:air_share)
        return if side.nil? || side.air_share < AIR_TOLD

        Remark.new(:why_air, hose: hose_of(side) || :high, percent: (side.air_share * 100).round)
      end

      # The needle runs behind what it feels.
      def lag
        drive = @now.pressures[gauge.high] - @now.pressures[gauge.low] + gauge.zero_error_psid
        return if pegged? || (drive - needle_psid).abs < LAGS_PSID || open_port?

        Remark.new(:why_lags, by_psid: (drive - needle_psid).abs)
      end
    end
  end
end
