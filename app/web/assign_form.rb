# frozen_string_literal: true

module Web
  # Giving a station to a trainee: raw strings in, values or field errors out.
  class AssignForm
    MODES = %w[practice exam proctor].freeze

    attr_reader :errors, :trainees

    # @param raw [Hash] as posted
    # @param trainees [Array<Store::Users::User>]
    def initialize(raw, trainees)
      @raw = raw
      @trainees = trainees
      @errors = {}
    end

    def valid?
      @errors[:trainee_id] = "Choose who is to work at this station." unless trainee
      @errors[:mode] = "Choose practice, exam or proctor sheet." unless MODES.include?(mode)
      @errors[:seed] = "Enter the seed as a whole number, like 7, or leave it empty." unless seed
      @errors.empty?
    end

    def trainee = trainees.find { |person| person.id.to_s == self[:trainee_id] }

    def mode = self[:mode]

    # @return [Integer, nil] as typed, or drawn
    def seed
      return @seed ||= rand(1..999_999) if self[:seed].strip.empty?

      Integer(self[:seed], 10, exception: false)
    end

    def [](name) = @raw[name].to_s
  end
end
