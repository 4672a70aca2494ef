# frozen_string_literal: true

module Web
  # A class to be made.
  class ClassForm < Form
    private

    def check = need(:name, "Give the class a name, like Spring testers.", most: 80)
  end
end
