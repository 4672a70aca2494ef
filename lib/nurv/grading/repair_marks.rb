# frozen_string_literal: true

module Nurv
  module Grading
    # Marks what was mended: whether every fault that the test had found is gone, and whether a test followed.
    class RepairMarks
      # @param replay [Bench::Replay]
      # @param truth [Expert::Truth] of the bench before any repair
      def initialize(replay, truth)
        @replay = replay
        @truth = truth
        @repairs = replay.entries.select { |entry| entry.action.kind == :repair }
      end

      # @return [Array<Line>]
      def lines = [repair, retested].compact

      private

      def repair
        mistake =
          if @repairs.empty?
            @truth.repairs? ? :repair_missing : nil
          elsif (left & @truth.diagnoses).any?
            :repair_wrong
          elsif !@truth.repairs?
            :repair_uncalled
          end
        build(:repair, 20, mistake, wanted, done)
      end

      # What was diagnosed and is still there.
      def left
        @replay
          .variant
          .after(@replay.last.state.changes)
          .station
          .faults
          .map { |item| "#{item.fault.component}:#{item.fault.reason}" }
      end

      def retested
        return unless @truth.repairs? || @repairs.any?

        overall = @replay.last.state.report[:retest_overall].to_s
        build(
          :retest,
          10,
          overall.empty? ? :retest_missing : nil,
          Remark.new(:full_retest),
          Remark.new(overall.empty? ? :no_retest : :retested)
        )
      end

      def wanted = @truth.repairs? ? Remark.new(:mend, repairs: @truth.mending) : Remark.new(:nothing_to_mend)

      def done
        return Remark.new(:nothing_mended) if @repairs.empty?

        Remark.new(:mended, repairs: @repairs.map { |entry| [entry.action[:component], entry.action[:action]] })
      end

      def build(id, points, mistake, expected, happened)
        Line.new(
          section: :judgement,
          id: id,
          points: points,
          earned: mistake ? 0 : points,
          mistake: mistake,
          at_s: @repairs.first&.action&.time_s,
          expected: expected,
          happened: happened
        )
      end
    end
  end
end
