# frozen_string_literal: true

module Nurv
  module Grading
    # How an exam is run and marked: weights, pass mark, what fails outright, tolerance, time, help, retest, and what
    # an instructor changed in the procedures.
    class Policy
      SECTIONS = %i[procedure readings judgement records].freeze
      # Second attempts: none, one on another variant, or as often as the instructor gives one.
      RETESTS = %i[none once open].freeze

      # Mistakes an instructor may let fail an exam on their own.
      OUTRIGHT = %i[
        went_on
        not_notified
        water_on_unannounced
        never_shown
        wrong_overall
        failing_passed
        record_wrong
        left_shut
        left_other_than_found
        left_open
        shutoff_opened_fast
        shutoff_called_relief
        repair_wrong
        finding_missed
      ].freeze

      attr_reader :id,
        :name,
        :weights,
        :pass_mark,
        :tolerance_psid,
        :fail_outright,
        :time_limit_min,
        :retest,
        :procedures,
        :unit,
        :data

      # @param data [Hash] symbol keys, as in data/policies and as kept with an exam
      def initialize(data)
        @data = Facts.of(data)
        @id = data[:id].to_sym
        @name = data[:name]
        @weights = SECTIONS.to_h { |section| [section, data[:weights].fetch(section).to_f] }.freeze
        @pass_mark = data[:pass_mark].to_f
        @tolerance_psid = data[:tolerance_psid].to_f
        @fail_outright = data[:fail_outright].map(&:to_sym).freeze
        @time_limit_min = data[:time_limit_min]
        @critical_fails = data.fetch(:critical_fails, true)
        @hints = data.fetch(:hints, false)
        @skip_waiting = data.fetch(:skip_waiting, false)
        @retest = data.fetch(:retest, "none").to_sym
        @unit = data.fetch(:unit, "psi").to_sym
        @procedures = @data.fetch(:procedures, {})
        freeze
      end

      # @param text [String] JSON
      # @raise [DataError] with everything that is wrong with it
      def self.parse(text, path = "policy")
        data = Facts.of(JSON.parse(text))
        problems = problems_of(data)
        raise DataError.new(path, problems) if problems.any?

        new(data)
      rescue JSON::ParserError
        raise DataError.new(path, [["top", Remark.new(:not_json)]])
      end

      # @param data [Object] plain data with symbol keys
      # @return [Array<Array(String, Remark)>] place and what is wrong there
      def self.problems_of(data)
        shape = Shapes::Policy.problems(data)
        return shape if shape.any?

        unknown = data[:fail_outright].reject { |id| OUTRIGHT.include?(id.to_sym) }
        unknown.map { |id| ["fail_outright", Remark.new(:not_known, typed: id, listed: OUTRIGHT)] } +
          data.fetch(:procedures, {}).flat_map { |id, overlay| overlay_problems(id, overlay) }
      end

      def self.overlay_problems(id, overlay) =
        Shapes::Overlay.problems(overlay).map { |where, what| ["procedures.#{id}.#{where}", what] }
      private_class_method :overlay_problems

      # @return [String] read back by .parse
      def to_json(*) = JSON.generate(data)

      # Whether a critical step left out fails on its own.
      def critical_fails? = @critical_fails

      # @return [Boolean] whether hints are given in an exam
      def hints? = @hints

      # @return [Boolean] whether waiting may be skipped in an exam
      def skip_waiting? = @skip_waiting

      # @param given [Integer] second attempts given already
      # @return [Boolean] whether one more may be given after a first attempt
      def second_attempt?(given) = {none: false, once: given.zero?, open: true}.fetch(retest)

      # @return [Procedures::Procedure] with this policy's label, limits and points
      def adjust(procedure) = procedure.adjusted(@procedures.fetch(procedure.id, {}))
    end
  end
end
