# frozen_string_literal: true

module Web
  # Where an attempt stands, in words.
  module StatusWords
    WORDS = {
      Store::Status::ASSIGNED => "Not begun",
      Store::Status::STARTED => "At the bench",
      Store::Status::SUBMITTED => "To review",
      Store::Status::PUBLISHED => "Published",
      Store::Status::ABSENT => "Absent",
      Store::Status::UNBEGUN => "Not reached",
      Store::Status::LEFT => "Left"
    }.freeze

    module_function

    # @param attempt [Store::Attempt] nobody reviews practice
    def of(attempt) = (attempt.practice? && attempt.submitted?) ? "Done" : WORDS[attempt.status]

    # @param status [String]
    def named(status) = WORDS.fetch(status)
  end
end
