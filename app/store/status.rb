# frozen_string_literal: true

module Store
  # Where an attempt or an exam stands, and where it may go from there: the only place that knows.
  class Status
    ASSIGNED = "assigned"
    STARTED = "started"
    SUBMITTED = "submitted"
    PUBLISHED = "published"
    # Never begun when its exam was closed: its owner was not there, or did not get so far.
    ABSENT = "absent"
    UNBEGUN = "unbegun"
    # Another bench took its place, or its owner went.
    LEFT = "left"

    DRAFT = "draft"
    OPEN = "open"
    PAUSED = "paused"
    CLOSED = "closed"

    # @param moves [Hash{String => Array<String>}] where it may go, by where it stands
    def initialize(moves)
      @moves = moves.freeze
    end

    # @return [Array<String>]
    def names = @moves.keys

    # @return [Boolean]
    def may?(from, to) = @moves.fetch(from).include?(to)

    # Rows that stand there go on; the others stay as they are.
    #
    # @param rows [Sequel::Dataset]
    # @param changes [Hash] what changes with it
    # @return [Integer] how many went
    # @raise [ArgumentError] if nothing ever goes that way
    def move(rows, from:, to:, **changes)
      raise ArgumentError, "nothing goes from #{from} to #{to}" unless may?(from, to)

      rows.where(status: from).update(status: to, **changes)
    end

    ATTEMPT = new(
      ASSIGNED => [STARTED, ABSENT, UNBEGUN, LEFT],
      STARTED => [SUBMITTED, LEFT],
      SUBMITTED => [PUBLISHED],
      PUBLISHED => [SUBMITTED],
      ABSENT => [],
      UNBEGUN => [],
      LEFT => [STARTED]
    )
    EXAM = new(DRAFT => [OPEN], OPEN => [PAUSED, CLOSED], PAUSED => [OPEN], CLOSED => [])
  end
end
