# frozen_string_literal: true

module Web
  # Giving a station to a trainee: raw strings in, values or field errors out.
  class AssignForm < Form
    MODES = %w[practice exam proctor].freeze

    attr_reader :trainees

    # @param raw [Hash] as posted
    # @param trainees [Array<Store::Users::User>]
    def initialize(raw, trainees)
      super(raw)
      @trainees = trainees
    end

    def trainee = trainees.find { |person| person.id.to_s == self[:trainee_id] }

    def mode = self[:mode]

    # @return [Integer, nil] as typed, or drawn
    def seed = @seed ||= self[:seed].empty? ? rand(1..999_999) : Integer(self[:seed], 10, exception: false)

    private

    def check
      @errors[:trainee_id] = "Choose who is to work at this station." unless trainee
      @errors[:mode] = "Choose practice, exam or proctor sheet." unless MODES.include?(mode)
      @errors[:seed] = "Enter the seed as a whole number, like 7, or leave it empty." unless seed
    end
  end
end
