# frozen_string_literal: true

# An act that the bench does not carry out, and what its tester is told.
RSpec::Matchers.define :be_refused do |words|
  supports_block_expectations

  match do |work|
    work.call
    false
  rescue Nurv::RefusedAction => error
    @told = SHIPPED.words.error(error)
    @told.match?(words)
  end

  failure_message { @told ? "was refused with “#{@told}”, not #{words.inspect}" : "was not refused" }
end
