# frozen_string_literal: true

module Web
  # The first instructor of an empty system, with the code that the server showed to whoever started it.
  class SetupForm < AccountForm
    private

    def check
      super
      unless Store::SetupCode.right?(
        self[:setup_code]
      )
        @errors[
          :setup_code
        ] = "Enter the set-up code that the server shows where it was started, like K7QX-2MPA."
      end
    end
  end
end
