# frozen_string_literal: true

module Nurv
  module Grading
    # How an exam is marked: weights, pass mark, what fails outright, tolerance of readings.
    class Policy
      SECTIONS = %i[procedure readings judgement records].freeze

      attr_reader :id, :name, :weights, :pass_mark, :tolerance_psid, :fail_outright, :time_limit_min

      def initialize(data)
        @id = data[:id].to_sym
        @name = data[:name]
        @weights = SECTIONS.to_h { |section| [section, data[:weights].fetch(section).to_f] }.freeze
        @pass_mark = data[:pass_mark].to_f
        @tolerance_psid = data[:tolerance_psid].to_f
        @fail_outright = data[:fail_outright].map(&:to_sym).freeze
        @time_limit_min = data[:time_limit_min]
        freeze
      end
    end
  end
end
