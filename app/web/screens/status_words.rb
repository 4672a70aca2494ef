# frozen_string_literal: true

module Web
  # Where an attempt stands, in words.
  module StatusWords
    WORDS = {
      "assigned" => "Not begun",
      "started" => "At the bench",
      "submitted" => "To review",
      "published" => "Published",
      "absent" => "Absent",
      "unbegun" => "Not reached",
      "left" => "Left"
    }.freeze

    module_function

    # @param attempt [Store::Attempt] nobody reviews practice
    def of(attempt) = (attempt.practice? && attempt.status == "submitted") ? "Done" : WORDS[attempt.status]

    # @param status [String]
    def named(status) = WORDS.fetch(status)
  end
end
