# frozen_string_literal: true

module Web
  # The first instructor of an empty system, with the code that the server showed to whoever started it.
  class SetupForm < AccountForm
    # @param stores [Store::Cabinet]
    def initialize(raw, stores)
      super(raw, stores.users)
      @setup_code = stores.setup_code
    end

    private

    def check
      super
      return if @setup_code.right?(self[:setup_code])

      @errors[:setup_code] = "Enter the set-up code that the server shows where it was started, like K7QX-2MPA."
    end
  end
end
