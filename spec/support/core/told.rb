# frozen_string_literal: true

# What a person is told of an error that the core raised on purpose.
module Told
  def self.by(work, error)
    work.call
    nil
  rescue error => raised
    SHIPPED.words.error(raised)
  end
end

# An act that the bench does not carry out.
RSpec::Matchers.define :be_refused do |words|
  supports_block_expectations
  match { |work| (@told = Told.by(work, Nurv::RefusedAction)) && @told.match?(words) }
  failure_message { @told ? "was refused with “#{@told}”, not #{words.inspect}" : "was not refused" }
end

# A file, or other data, that says what cannot be.
RSpec::Matchers.define :be_bad_data do |words|
  supports_block_expectations
  match { |work| (@told = Told.by(work, Nurv::DataError)) && @told.match?(words) }
  failure_message { @told ? "was refused with “#{@told}”, not #{words.inspect}" : "was not refused" }
end
