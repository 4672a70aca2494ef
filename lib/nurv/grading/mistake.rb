# frozen_string_literal: true

module Nurv
  module Grading
    # A mistake testers make, with its name and why it matters.
    class Mistake
      attr_reader :id, :name, :why

      def initialize(data)
        @id = data[:id].to_sym
        @name = data[:name]
        @why = data[:why]
        freeze
      end
    end
  end
end
