# frozen_string_literal: true

module Nurv
  module Grading
    # Marks what was noted as wrong with site, kit and installation, and whether the tester stopped where one must.
    class FindingMarks
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
          "Finding: #{finding.label.downcase}",
          10,
          noted ? nil : :finding_missed,
          "Noted as a finding.",
          noted ? "Noted." : "Not noted.",
          moment_of(finding.at)
        )
      end

      def false_line(at)
        build(
          :"false_#{at}",
          "Finding that is none: #{at.to_s.tr("_", " ")}",
          5,
          :finding_false,
          "Nothing to note there.",
          "Noted as a finding.",
          moment_of(at)
        )
      end

      def stop_line
        index = (0...@chronicle.size).find { |i| @chronicle.action(i).kind == :connect || shut?(i) }
        build(
          :stopped,
          "Stopped where testing must not go on",
          30,
          index ? :went_on : nil,
          "No hose put on, no shutoff closed.",
          index ? "The test was begun." : "Stopped.",
          index && @chronicle.from_s(index)
        )
      end

      def shut?(index) = @station.assembly.shutoff_valves.any? { |valve| @chronicle.turned(index, valve) == -1 }

      def moment_of(at)
        index =
          (0...@chronicle.size).find do |i|
            @chronicle.action(i).kind == :find && @chronicle.action(i).name(:finding) == at
          end
        index && @chronicle.from_s(index)
      end

      def build(id, title, points, mistake, expected, happened, moment)
        Line.new(
          section: :records,
          id: id,
          title: title,
          points: points,
          earned: mistake ? 0 : points,
          mistake: mistake,
          at_s: moment,
          expected: expected,
          happened: happened,
          why: @chronicle.why(mistake || :finding_missed)
        )
      end
    end
  end
end
