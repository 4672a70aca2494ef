# frozen_string_literal: true

module Web
  # A trainee's own PIN, instead of the one on the card.
  class PinForm < Form
    # @param right [#call] whether a PIN is the one they have now
    def initialize(raw, right)
      super(raw)
      @right = right
    end

    private

    def check
      @errors[:now] = "That is not the PIN you have now." unless @right.call(self[:now])
      @errors[:pin] = "Choose a PIN of four to eight digits." unless self[:pin].match?(RosterForm::PIN)
    end
  end
end
