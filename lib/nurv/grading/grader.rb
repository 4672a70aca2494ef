# frozen_string_literal: true

module Nurv
  module Grading
    # Grades a log: a pure function of station, seed, log and policy.
    class Grader
      # @param variant [Scenarios::Variant]
      # @param log [Bench::Log]
      # @param procedure [Procedures::Procedure]
      # @param policy [Policy]
      # @return [Grade]
      def self.grade(variant, log, procedure: nil, policy: nil)
        replay = Bench::Replay.new(variant, log)
        chosen = procedure || chosen_procedure(variant, replay)
        new(replay, chosen, policy || Catalog.default.policies.fetch(:standard)).grade
      end

      # The procedure named on the report, or the first the station allows.
      def self.chosen_procedure(variant, replay)
        named = replay.last.state.report[:procedure].to_s.to_sym
        variant.station.procedures.find { |procedure| procedure.id == named } || variant.station.procedures.first
      end

      def initialize(replay, procedure, policy)
        @transcript = Transcript.new(replay, procedure)
        @truth = Scenarios::Truth.of(replay.variant, procedure)
        @report = Reports::FieldReport.new(procedure, replay.last.state.report)
        @policy = policy
        @procedure = procedure
      end

      def grade
        steps = StepMarks.new(@transcript, @truth)
        lines = steps.lines + ReadingMarks.new(@transcript, @truth, @report, steps, @policy).lines +
          JudgementMarks.new(@truth, @report).lines + RecordMarks.new(@transcript, @report, stopped: @truth.stopped?).lines +
          FindingMarks.new(@transcript, @truth).lines
        Grade.new(lines, @policy, @procedure)
      end
    end
  end
end
