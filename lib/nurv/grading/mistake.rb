# frozen_string_literal: true

module Nurv
  module Grading
    # A mistake testers make, with its name and why it matters.
    class Mistake
      attr_reader :id, :name, :why

      # @param data [Hash] as in data/procedures/shared/mistakes.yml
      def initialize(data)
        @id = data[:id].to_sym
        @name = data[:name]
        @why = data[:why]
        freeze
      end
    end
  end
end
