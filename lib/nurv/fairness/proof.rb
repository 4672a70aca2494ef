# frozen_string_literal: true

module Nurv
  module Fairness
    # What an adopted procedure does, worked out on the simulator: what a correct tester reads on a healthy assembly,
    # which faults it finds and which it cannot, and whether its own expert earns full marks wherever it is used.
    class Proof
      # @param catalog [Catalog]
      # @param procedure [Procedures::Procedure] as adopted
      # @param stations [Array<Stations::Station>] where it is used; those that do not allow it are left out
      def initialize(catalog, procedure, stations = [])
        @procedure = procedure
        @matrix = Expert::Matrix.new(catalog)
        @stations = stations.select { |station| station.procedures.any? { |item| item.id == procedure.id } }
        @cells = cells(catalog)
      end

      # @return [Integer] pieces of work
      def size = @cells.size + @stations.size

      # @yieldparam done [Integer] pieces so far
      # @return [Hash{Symbol => Object}] plain data: healthy {item => value}; faults [[fault, severity, outcome, whole,
      #   score]]; stations [[title, score, mistakes]]
      def to_h
        done = 0
        tick = ->(result) { result.tap { yield(done += 1) if block_given? } }
        faults = @cells.map { |fault, severity| tick.call(row(fault, severity)) }
        {
          healthy: @healthy,
          minutes: @minutes,
          faults: faults.drop(1),
          healthy_score: faults.first.last,
          stations: @stations.map { |station| tick.call(at(station)) }
        }
      end

      private

      # The healthy assembly first, then each fault at its moderate severity.
      def cells(catalog)
        known = catalog.faults.values.select { |fault| fault.applies_to?(@procedure.assembly) }
        [[nil, nil]] + known.map { |fault| [fault, :moderate] }
      end

      def row(fault, severity)
        variant = Stations::Variant.new(@matrix.station(@procedure, fault, severity), 1)
        truth = Expert::Truth.of(variant, @procedure)
        keep_healthy(truth) unless fault
        score = score(variant, truth)
        whole = truth.overalls(truth.verdict).first
        [fault&.id, severity, outcome(truth), whole, score]
      rescue RefusedAction => error
        [fault&.id, severity, :refused, error.remark.id, 0.0]
      end

      def keep_healthy(truth)
        @healthy = truth.values
        @minutes = (truth.run.end_s / 60.0).round(1)
      end

      def outcome(truth)
        return :found if truth.solvable?

        truth.diagnoses.empty? ? :hidden : :mistaken
      end

      def score(variant, truth) = Grading::Grader.grade(variant, truth.run.log, procedure: @procedure).score

      def at(station)
        variant = Stations::Variant.new(station, 1)
        graded = Grading::Grader.grade(variant, Expert::Truth.of(variant, @procedure).run.log, procedure: @procedure)
        [station.title, graded.score, graded.mistakes]
      rescue RefusedAction => error
        [station.title, 0.0, [error.remark.id]]
      end
    end
  end
end
