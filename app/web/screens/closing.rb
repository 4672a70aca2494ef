# frozen_string_literal: true

module Web
  # What closing an exam would do, to whom: asked before it is done.
  class Closing
    # @param attempts [Array<Store::Attempt>] of the exam
    # @param late [Array<Store::Users::User>] on the roster without a bench
    def initialize(attempts, late)
      @people = attempts.group_by(&:trainee_id).values
      @late = late
    end

    # @return [Array<Array(String, String)>] names and the bench at which they work now
    def working =
      @people
        .filter_map { |own| own.find(&:started?)&.then { |attempt| [attempt.trainee_name, attempt.station.title] } }
        .sort

    # Began one bench, but not every one, and are at none now.
    def unfinished = names { |own| own.none?(&:started?) && own.any?(&:over?) && own.any?(&:assigned?) }

    def finished = names { |own| own.all?(&:over?) }

    def absent = names { |own| own.all?(&:assigned?) } + @late.map(&:name)

    private

    def names(&) = @people.select(&).map { |own| own.first.trainee_name }.sort
  end
end
