# frozen_string_literal: true

module Web
  # The results of an exam before trainees see them: what needs a second look first.
  class Publishing
    # So near to the pass mark, a second look is worth it.
    NEAR = 3.0
    Row = Struct.new(:attempt, :standing, :why, keyword_init: true)

    # @param attempts [Array<Store::Attempt>] handed in
    # @param standings [Hash{Integer => Store::Grades::Standing}]
    def initialize(attempts, standings)
      @attempts = attempts
      @standings = standings
    end

    # @return [Array<Row>] failed outright, then near the pass mark, then the rest by name
    def rows = @rows ||= @attempts.map { |attempt| row(attempt) }.sort_by { |row| [row.why ? 0 : 1, row.why.to_s, row.attempt.trainee_name] }

    def to_look_at = rows.count(&:why)

    def graded = rows.count(&:standing)

    private

    def row(attempt)
      standing = @standings[attempt.id]
      Row.new(attempt: attempt, standing: standing, why: standing && why(attempt, standing))
    end

    def why(attempt, standing)
      policy = attempt.grading_policy
      return "Failed outright" if !standing.pass && standing.score >= policy.pass_mark
      return "Near the pass mark" if (standing.score - policy.pass_mark).abs <= NEAR

      nil
    end
  end
end
