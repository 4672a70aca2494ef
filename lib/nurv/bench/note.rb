# frozen_string_literal: true

module Nurv
  module Bench
    # A value jotted in the notebook, and the moment it was jotted.
    Note = Struct.new(:item, :value, :at_s)
  end
end
