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
        record_wrong
        left_shut
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
        @procedures = @data.fetch(:procedures, {})
        freeze
      end

      KNOWN = %i[
        id
        name
        weights
        pass_mark
        tolerance_psid
        fail_outright
        time_limit_min
        critical_fails
        hints
        skip_waiting
        retest
        procedures
      ].freeze

      # @param text [String] JSON
      # @raise [DataError] with everything that is wrong with it
      def self.parse(text, path = "policy")
        data = JSON.parse(text, symbolize_names: true)
        problems = data.is_a?(Hash) ? problems_of(data) : [["top", "should be a mapping"]]
        raise DataError.new(path, problems) if problems.any?

        new(data)
      rescue JSON::ParserError
        raise DataError.new(path, [["top", "is not JSON"]])
      end

      # @return [Array<Array(String, String)>] place and what is wrong there
      def self.problems_of(data)
        within = ->(value, range) { value.is_a?(Numeric) && value.to_f.finite? && range.cover?(value) }
        checks = {
          weights: data[:weights].is_a?(Hash) && SECTIONS.all? { |name| within.call(data[:weights][name], 0..1000) },
          pass_mark: within.call(data[:pass_mark], 0..100),
          tolerance_psid: within.call(data[:tolerance_psid], 0..15),
          fail_outright:
            data[:fail_outright].is_a?(Array) && data[:fail_outright].all? { |id| OUTRIGHT.include?(id.to_s.to_sym) },
          time_limit_min: data[:time_limit_min].nil? || within.call(data[:time_limit_min], 1..1440),
          id: data[:id].is_a?(String),
          name: data[:name].is_a?(String),
          retest: data[:retest].nil? || RETESTS.include?(data[:retest].to_s.to_sym),
          procedures: data.fetch(:procedures, {}).is_a?(Hash)
        }
        (data.keys - KNOWN).map { |key| [key.to_s, "is not known here"] } +
          checks.reject { |_, good| good }.map { |key, _| [key.to_s, "cannot be #{data[key].inspect[0, 60]}"] }
      end

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
