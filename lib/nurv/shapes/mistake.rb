# frozen_string_literal: true

module Nurv
  module Shapes
    # What can be marked against a tester; its words stand in data/words.
    Mistake = Shape.define { required(:id).value(:name?) }
  end
end
