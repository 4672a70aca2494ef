# frozen_string_literal: true

module Nurv
  module Grading
    # Grades a log: a pure function of station, seed, log and policy.
    class Grader
      # Goes up when a rule of grading changes, so that what was worked out before is worked out again. When a law of
      # the water changes, Hydraulics::VERSION does, and what was worked out before stands.
      RULES = 8

      # @param variant [Stations::Variant]
      # @param log [Bench::Log]
      # @param procedure [Procedures::Procedure]
      # @param policy [Policy]
      # @param met [Hash{Integer => Bench::Met}] see Bench::Replay; the grade is the same without
      # @return [Grade]
      def self.grade(variant, log, procedure: nil, policy: nil, met: {})
        replay = Bench::Replay.new(variant, log, met: met)
        policy ||= variant.station.catalog.policies.fetch(:standard)
        new(
          replay,
          policy.adjust(procedure || variant.station.procedure_named(replay.last.state.report[:procedure])),
          policy
        ).grade
      end

      # @param replay [Bench::Replay]
      # @param procedure [Procedures::Procedure] as the policy adjusts it
      # @param policy [Policy]
      def initialize(replay, procedure, policy)
        @replay = replay
        @procedure = procedure
        @policy = policy
        @fields = replay.last.state.report
        @truth = Expert::Truth.of(replay.variant.after(injected), procedure)
        @repaired_at = replay.entries.index { |entry| entry.action.kind == :repair }
        @resumes_at = resumes_at
      end

      # @return [Grade] of a test alone, or of test, repair and retest
      def grade
        lines = (@truth.repairs? || @repaired_at) ? test_repair_retest : test
        Grade.new(lines, @policy, @procedure, went_back_ml: went_back_ml)
      end

      private

      # Downstream water past check valve 1 while the tester was at work: not what had gone back before they came.
      def went_back_ml
        gone = ->(span, water) { span.tracer.gone_back_ml(water.shares).last }
        first = @replay.first
        last = @replay.last
        (gone.call(last, last.water_at(last.from_s)) - gone.call(first, first.state.water)).round(1)
      end

      # The test after a repair begins as the water comes on again: what was opened to relieve the body is closed by
      # then.
      #
      # @return [Integer, nil] of an entry
      def resumes_at
        last = @replay.entries.rindex { |entry| entry.action.kind == :repair } or return
        shutoffs = @replay.variant.station.assembly.shutoff_valves
        on = (last + 1...@replay.entries.size).find do |index|
          action = @replay.entries[index].action
          action.kind == :turn && shutoffs.include?(action.named(:valve)) && action[:to].to_f.positive?
        end
        on || last + 1
      end

      # Trouble that an instructor put in is part of what was there to be found.
      def injected = @replay.last.state.changes.select { |change| change[:kind] == "inject" }

      def test
        chronicle = Chronicle.new(@replay, @procedure)
        report = Reports::FieldReport.new(@procedure, @fields)
        steps = steps_of(chronicle, @truth)
        read = readings(chronicle, @truth, report, steps)
        steps.lines + read.lines + paper(chronicle, report, read)
      end

      # By hand: a proctor's marks beside a real bench stand in for what a simulated one would have shown.
      def steps_of(chronicle, truth, &wanted)
        marked = @replay.entries.any? { |entry| entry.action.kind == :mark }
        marked ? HandMarks.new(chronicle, truth, &wanted) : StepMarks.new(chronicle, truth, &wanted)
      end

      def readings(chronicle, truth, report, steps) = ReadingMarks.new(chronicle, truth, report, steps, @policy)

      def paper(chronicle, report, read, repaired: false)
        JudgementMarks.new(@truth, report, read).lines +
          RecordMarks.new(chronicle, report, stopped: @truth.stopped?, repaired: repaired).lines +
          FindingMarks.new(chronicle, @truth).lines
      end

      # The test as far as the repair, the repair, the test after it, and what ends the visit.
      def test_repair_retest
        first = Chronicle.new(@replay, @procedure, window: 0...(@repaired_at || @replay.entries.size))
        report = Reports::FieldReport.new(@procedure, @fields)
        steps = steps_of(first, @truth) { |step| !step.closing? }
        read = readings(first, @truth, report, steps)
        lines =
          steps.lines + read.lines + paper(first, report, read, repaired: !@repaired_at.nil?) +
          RepairMarks.new(@replay, @truth).lines
        lines + (@repaired_at ? retest(Chronicle.new(@replay, @procedure, window: @resumes_at..)) : ending(first))
      end

      def ending(chronicle) = steps_of(chronicle, @truth, &:closing?).lines

      # Judged by what was there after this tester's repair, right or wrong.
      def retest(chronicle)
        truth = Expert::Truth.of(@replay.variant.after(@replay.last.state.changes), @procedure, after_repair: true)
        report = Reports::FieldReport.new(@procedure, @fields, retest: true)
        steps = steps_of(chronicle, truth) { |step| !step.opening? && !step.closing? }
        read = readings(chronicle, truth, report, steps)
        again =
          steps.lines + read.lines + JudgementMarks.new(truth, report, read).results +
          [RecordMarks.new(chronicle, report).notebook]
        again.map(&:of_retest) + ending(chronicle)
      end
    end
  end
end
