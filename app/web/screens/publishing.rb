# frozen_string_literal: true

module Web
  # The results of an exam before trainees see them: what needs a second look first.
  class Publishing
    Row = Struct.new(:attempt, :standing, :why, keyword_init: true)

    # @param attempts [Array<Store::Attempt>] handed in
    # @param standings [Hash{Integer => Store::Grades::Standing}]
    def initialize(attempts, standings)
      @attempts = attempts
      @standings = standings
    end

    # @return [Array<Row>] failed outright, then near the pass mark, then the rest by name
    def rows
      @rows ||= @attempts.map { |attempt| row(attempt) }
        .sort_by { |row| [row.why ? 0 : 1, row.why.to_s, row.attempt.trainee_name] }
    end

    def to_look_at = rows.count(&:why)

    private

    def row(attempt)
      standing = @standings[attempt.id]
      Row.new(attempt: attempt, standing: standing, why: standing && why(standing))
    end

    def why(standing)
      return "Failed outright" if standing.outright

      "Near the pass mark" if standing.near
    end
  end
end
