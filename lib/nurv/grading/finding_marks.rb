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
        found = @station.findings.map { |finding| finding_line(finding, noted.include?(finding.at)) }
        false_ones = (noted - @station.findings.map(&:at)).map { |at| false_line(at) }
        found + false_ones + (@truth.stopped? ? [stop_line] : [])
      end

      private

      def finding_line(finding, noted)
        build(
          :"finding_#{finding.id}",
          POINTS,
          noted ? nil : :finding_missed,
          :to_be_noted,
          noted ? :noted : :not_noted,
          moment_of(finding.at)
        )
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
      # @param happened [Symbol] a remark
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
          happened: Remark.new(happened)
        )
      end
    end
  end
end
