# frozen_string_literal: true

module Nurv
  module Hydraulics
    # An edge that no hand is on: it answers what every edge is asked of its controls.
    module Unturned
      NONE = [].freeze
      private_constant :NONE

      # There is nothing to set.
      def at(_time_s) = nil

      # @return [Boolean] no hand is on it
      def moving?(_time_s) = false

      # @return [Boolean] it opens by itself
      def shut_for_good? = false

      # @return [Array<Ramp>] none
      def turning = NONE
    end
  end
end
