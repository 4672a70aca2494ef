# frozen_string_literal: true

module Nurv
  module Grading
    # Marks what was noted as wrong with site, kit and installation, and whether the tester stopped where one must.
    class FindingMarks
      # A finding noted that is none costs what one costs that is missed, and there is no floor under it.
      POINTS = 10
      # @param chronicle [Chronicle]
      # @param truth [Expert::Truth]
      def initialize(chronicle, truth)
        @chronicle = chronicle
        @truth = truth
        @station = chronicle.variant.station
      end

      # @return [Array<Line>] none at a station with nothing to find and nothing noted
      def lines
        noted = @chronicle.last_state.findings.map(&:to_sym)
        found = @station.findings.map { |finding| finding_line(finding, named_at(finding, noted)) }
        false_ones = (noted - @station.findings.map(&:at)).map { |at| false_line(at) }
        found + false_ones + (@truth.stopped? ? [stop_line] : [])
      end

      private

      # @return [Symbol, nil] what it was called; :noted by a log that only says where
      def named_at(finding, noted)
        return unless noted.include?(finding.at)

        @chronicle.last_state.found_as.fetch(finding.at, :noted)
      end

      def finding_line(finding, named)
        right = named == :noted || named == finding.id
        happened = right ? Remark.new(:noted) : otherwise(named)
        build(
          :"finding_#{finding.id}",
          POINTS,
          right ? nil : :finding_missed,
          :to_be_noted,
          happened,
          moment_of(finding.at)
        )
      end

      def otherwise(named)
        finding = named && @station.catalog.findings[named]
        finding ? Remark.new(:noted_as, label: finding.label) : Remark.new(:not_noted)
      end

      def false_line(at)
        build(
          :"false_#{at}",
          0,
          :finding_false,
          :nothing_to_note_there,
          :noted_as_finding,
          moment_of(at),
          earned: -POINTS
        )
      end

      def stop_line
        index = (0...@chronicle.size).find { |i| @chronicle.action(i).kind == :connect || shut?(i) }
        build(
          :stopped,
          30,
          index ? :went_on : nil,
          :nothing_begun,
          index ? :test_begun : :stopped,
          index && @chronicle.from_s(index)
        )
      end

      def shut?(index) = @station.assembly.shutoff_valves.any? { |valve| @chronicle.turned(index, valve) == -1 }

      def moment_of(at)
        index =
          (0...@chronicle.size).find do |i|
            @chronicle.action(i).kind == :find && @chronicle.action(i).named(:finding) == at
          end
        index && @chronicle.from_s(index)
      end

      # @param expected [Symbol] a remark
      # @param happened [Symbol, Remark] a remark
      # @param earned [Numeric] where there is a mistake
      def build(id, points, mistake, expected, happened, moment, earned: 0)
        Line.new(
          section: :records,
          id: id,
          points: points,
          earned: mistake ? earned : points,
          mistake: mistake,
          at_s: moment,
          expected: Remark.new(expected),
          happened: happened.is_a?(Remark) ? happened : Remark.new(happened)
        )
      end
    end
  end
end
