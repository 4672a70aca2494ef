# frozen_string_literal: true

module Web
  # More time for the benches of an exam: how much, and for which.
  class TimeForm < Form
    def minutes = self[:minutes].to_i

    # @return [Boolean] only for those that are ticked; without a list, for all
    def some? = self[:some] == "1"

    def chosen?(attempt) = list(:benches).include?(attempt.id.to_s)

    private

    def check
      whole(:minutes, 1..120, "Enter whole minutes from 1 to 120, like 5.")
      @errors[:benches] = "Tick at least one bench." if some? && list(:benches).empty?
    end
  end
end
