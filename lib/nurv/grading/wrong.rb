# frozen_string_literal: true

module Nurv
  module Grading
    # One thing that was not as it must be where a step was tried.
    #
    # mistake [Symbol]; happened [Remark] what was done instead; at_s [Float] simulated seconds
    Wrong =
      Struct.new(:mistake, :happened, :at_s, keyword_init: true) do
        # @param data [Hash{Symbol => Object}] as #to_h has it, or as JSON gave it back
        # @return [Wrong]
        def self.from(data) =
          new(mistake: data[:mistake].to_sym, happened: Remark.from(data[:happened]), at_s: data[:at_s])

        # @return [Hash{Symbol => Object}] plain data, read back by .from
        def to_h = {mistake: mistake, happened: happened.to_h, at_s: at_s}
      end
  end
end
