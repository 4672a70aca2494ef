# frozen_string_literal: true

module Nurv
  module Grading
    # A stretch of an attempt in which a step was tried.
    #
    # step [Procedures::Step]; first, last [Integer] entries of the chronicle; from_s, to_s [Float] simulated seconds,
    # from its first act to the act that ends it; lacking [Remark, nil] what kept it from being done as a whole
    Attempted =
      Struct.new(:step, :first, :last, :from_s, :until_s, :lacking, keyword_init: true) do
        # @return [Range] of entries
        def entries = first..last
      end
  end
end
