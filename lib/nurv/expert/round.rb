# frozen_string_literal: true

module Nurv
  module Expert
    # One test of a run, before a repair or after it: what a tester read, noticed and did.
    #
    # values [Hash{Symbol => String}] item => as written; flags [Array<Symbol>] what was noticed; steps [Array<Symbol>]
    # as done; marks [Hash{Symbol => Float}] where the needle stood when it was marked, psid
    Round =
      Struct.new(:values, :flags, :steps, :marks) do
        # @return [Round] nothing is done yet
        def self.fresh = new({}, [], [], {})

        # @param name [Symbol, String]
        def notice(name) = self.flags |= [name.to_sym]

        # @param id [Symbol] of a step
        def done(id) = self.steps |= [id]
      end
  end
end
