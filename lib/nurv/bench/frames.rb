# frozen_string_literal: true

module Nurv
  module Bench
    # What eyes see at a bench over a short stretch of time, as keyframes for a browser to play. It holds nothing that
    # an eye could not see.
    class Frames
      # Needle points closer to the line between their neighbours than this are left out.
      THIN_PSID = 0.01
      RESIDUAL_EVERY_S = 7
      # What a face shows at its finest, psid: a tenth of the way between two marks, or its digits.
      FACE_PSID = {"analogue" => 0.02, "digital" => 0.1}.freeze
      # Finer than any eye.
      FINE_PSID = 0.001

      # @param span [Span]
      # @param from_s [Float]
      # @param to_s [Float]
      # @param inside [Boolean] pressures of the chambers too, which no eye sees: for practice
      # @param grain_psid [Float] the needle is told no finer than this
      def initialize(span, from_s, to_s, inside: false, grain_psid: FINE_PSID)
        @inside = inside
        @grain_psid = grain_psid
        @span = span
        @from_s = [from_s, span.from_s].max
        @to_s = [to_s, @from_s].max
      end

      # @return [Hash] needle: [[ms, psid]…], outlets: {id => [[ms, word]…]}, poppet: [[ms, fraction]…]
      def to_h
        {
          from_ms: ms(@from_s),
          until_ms: ms(@to_s),
          needle: needle,
          face: face,
          outlets: outlets,
          spits: spits,
          poppet: poppet,
          tube: tube,
          line_gauge: line_gauge,
          inside: inside,
          cut: cut,
          came_back: came_back
        }.compact
      end

      private

      def ms(seconds) = (seconds * 1000).round

      def times = points.map(&:first)

      def points = @points ||= @span.trajectory.needle_points(@from_s, @to_s)

      def needle
        return samples if @span.digital?

        thin(points.map { |time, psid| [ms(time), grained(psid)] })
      end

      # A digital face stands still between two samples, and while it holds one; nothing is told while it shows nothing.
      def samples
        points = [[ms(@from_s), digits(@from_s)]]
        every = Span::SAMPLES_PER_S
        ((@from_s * every).floor + 1..(@to_s * every).floor).each do |number|
          value = digits(number / every)
          next if value == points.last[1]

          moment = ms(number / every)
          points << [moment - 1, points.last[1]] << [moment, value]
        end
        points
      end

      def digits(time) = grained(@span.shown_at(time) || 0.0)

      # How a digital face is, where it is not simply on.
      def face
        return unless @span.digital?

        changes = @span.face.changes(@from_s, @to_s)
        changes.map { |time, word| [ms(time), word.to_s] } unless changes == [[@from_s, :on]]
      end

      def grained(psid) = ((psid / @grain_psid).round * @grain_psid).round(3)

      def thin(points)
        kept = [points.first]
        points
          .each_cons(2)
          .with_index do |(point, following), index|
            next if index.zero?

            kept << point unless between?(kept.last, point, following)
          end
        kept << points.last if points.size > 1
        kept
      end

      def between?(left, point, right)
        return true if right[0] == left[0]

        line = left[1] + (right[1] - left[1]) * (point[0] - left[0]) / (right[0] - left[0]).to_f
        (line - point[1]).abs < THIN_PSID && right[0] - left[0] < 700
      end

      # Only changes: a port that stays dry is one entry. One that is shut, and that nobody is turning, is not asked.
      def outlets
        seen = seen_ids.to_h { |id| [id, [[ms(sampled.first), Flow::DRY.name]]] }
        open = seen_ids & @span.network.outlets.map(&:id)
        open.each { |id| seen[id].clear }
        look_at(open, seen) unless open.empty?
        residual ? seen.merge(residual: residual) : seen
      end

      def look_at(ids, seen)
        network = @span.network
        edges = ids.map { |id| network.edge(id) }
        lists = seen.values_at(*ids)
        @span.trajectory.moments(sampled) do |time, pressures, state|
          edges.each_with_index do |edge, place|
            word = word_of(edge.id, network.water_flow(edge, pressures, state), time).name
            list = lists[place]
            list << [ms(time), word] unless list.last&.last == word
          end
        end
      end

      def word_of(id, flow, time)
        word = Flow.seen(flow)
        (word == Flow::DRY && @span.sucking_at?(time, id)) ? Flow::SUCKING : word
      end

      # Air in what runs out of a kit is seen and heard from this share on.
      SPIT = 0.05
      private_constant :SPIT

      # @return [Array<Symbol>, nil] outlets of the kit that spit: air comes with the water
      def spits
        open = @span.network.outlets.grep(Hydraulics::KitPassage).reject { |edge| hidden?(edge.id) }
        ids = open.select { |edge| spits?(edge) }.map(&:id)
        ids unless ids.empty?
      end

      def spits?(edge)
        pressures = pressures_at(@from_s)
        flow = edge.flow(pressures)
        return false if flow < Flow::LEAST[:trickle]

        1.0 - @span.network.water_flow(edge, pressures, @span.trajectory.state_near(@from_s)) / flow >= SPIT
      end

      # Pressures are looked up once for all that is told of a moment.
      def pressures_at(time) = (@pressures ||= {})[time] ||= @span.trajectory.pressures_at(time)

      def pressure_at(time, node) = pressures_at(time)[@span.network.index.fetch(node)]

      # Water left on an RP's body after flushing hangs there and drips now and then, beside the relief port and not
      # out of it.
      def residual
        wet = @span.state.flushed.any? || @span.state.running.any?
        return unless wet && @span.network.relief_valve

        points = [[ms(@from_s), residual_word(@from_s)]]
        (@from_s.floor..@to_s.ceil).each do |second|
          if second.between?(@from_s, @to_s) && residual_word(second) != points.last[1]
            points << [second * 1000, residual_word(second)]
          end
        end
        points
      end

      def residual_word(second) = (second.to_i % RESIDUAL_EVERY_S == 3) ? "drip" : Flow::DRY.name

      def seen_ids = @seen_ids ||= @span.outlet_ids.reject { |id| hidden?(id) }

      # Nobody sees what is drawn downstream, nor the open port at the back of a kit.
      def hidden?(id) = id == :demand || id.start_with?("port_")

      def sampled
        @sampled ||=
          begin
            last = nil
            times.select { |time| (last.nil? || time - last >= 0.15 || time == @to_s) && (last = time) }
          end
      end

      def poppet
        inlet = @span.network.air_inlet or return
        sampled.map do |time|
          [ms(time), @span.trajectory.air_inlet_at(time).round(2) * ((inlet.area < 1.0) ? inlet.area : 1.0)]
        end
      end

      CHAMBERS = %i[supply inlet zone body outlet downstream high low].freeze

      def inside
        return unless @inside

        (CHAMBERS & @span.network.index.keys).to_h do |node|
          [node, changing(sampled.map { |time| [ms(time), pressure_at(time, node).round(1)] })]
        end
      end

      # So often is told how the parts inside stand, s.
      CUT_EVERY_S = 0.4
      CUT_FLOWS = %i[shutoff_valve_1 check_valve_1 check_valve_2 shutoff_valve_2].freeze
      private_constant :CUT_EVERY_S, :CUT_FLOWS

      # How far checks and relief valve stand open, mL/s along the pipe, and where air stands over water.
      def cut
        return unless @inside

        @cut ||= parts.merge(air: airy, dirty: dirty)
      end

      def parts
        seen = {}
        cut_times.each do |time|
          pressures = pressures_at(time)
          flows = @span.trajectory.flows_at(time, CUT_FLOWS, pressures)
          put = ->(name, value) { (seen[name] ||= []) << [ms(time), value] }
          checks.each { |check| put.call(check.id, check.opening(pressures).round(2)) }
          put.call(:relief_valve, @span.network.relief_valve.follow(pressures).round(2)) if @span.network.relief_valve
          flows.each { |id, flow| put.call(:"flow_#{id}", flow.round(1)) if @span.network.edge(id) }
        end
        {parts: seen.transform_values { |points| changing(points) }}
      end

      # What does not change is one point.
      def changing(points) = (points.all? { |_, value| value == points[0][1] }) ? [points[0]] : points

      def cut_times
        last = nil
        sampled.select { |time| (last.nil? || time - last >= CUT_EVERY_S || time == @to_s) && (last = time) }
      end

      # Checks that something holds off their seats.
      def dirty = checks.map(&:id).select { |id| @span.variant.setting(id, :leak_k, 0.0).positive? }

      def checks = @checks ||= @span.network.edges.grep(Hydraulics::CheckValve)

      def airy
        present = at_last.air_present
        (CHAMBERS & @span.network.index.keys).select { |node| present[@span.network.index[node]] }
      end

      # Air and where water came from change slowly, so a step back is near enough.
      def at_last = @at_last ||= @span.trajectory.state_near(@to_s)

      # Of what a chamber holds, how much came from downstream, in percent; nothing while none went back, and nothing of
      # what is downstream, where it belongs.
      def came_back
        return unless @inside

        shares = at_last.shares
        return if shares.empty?

        tracer = @span.tracer
        percent =
          tracer.nodes.each_with_index.to_h do |node, place|
            [@span.network.nodes[node].id, (tracer.from_downstream(shares, place) * 100.0).round(1)]
          end
        percent.except(:downstream)
      end

      # A plain gauge reads whole psi.
      def line_gauge
        return unless @span.state.fittings.key?(:line_gauge)

        sampled.map { |time| [ms(time), pressure_at(time, :line_gauge).round] }
      end

      def tube
        return unless @span.state.fittings.key?(:sight_tube)

        sampled.map do |time|
          [ms(time), (pressure_at(time, :sight_tube) / Units::PSI_PER_INCH_OF_WATER).round(1)]
        end
      end
    end
  end
end
