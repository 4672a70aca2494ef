# frozen_string_literal: true

module Store
  # Who stands at which bench: asked for with every act and every second in between, so session, person, bench and
  # whether they sit in an exam are one question.
  class Visits < Drawer
    # @param user [Users::User] signed in, and the one who works at the bench
    # @param attempt [Attempt] without its dates and what is said of it, which are slow to read
    # @param examined [Boolean] in an exam right now, here or at another bench
    Visit = Struct.new(:user, :attempt, :examined) do
      # @return [Boolean] work goes on, and nothing else is to be said or done first
      def usual?(wall_ms)
        attempt.started? && !attempt.proctored? && !(attempt.practice? && user.trainee? && examined) &&
          attempt.sound? && !attempt.overdue?(wall_ms) && !attempt.clock.idle?(wall_ms)
      end
    end

    # What of a bench is read.
    COLUMNS = (Attempt::COLUMNS + %i[catalog] - %i[created_at started_at submitted_at published_at comment]).freeze
    PERSON = Users::User.members.to_h { |name| [:"person_#{name}", name] }.freeze

    # @param token [String, nil] of the browser
    # @param number [Integer] of the attempt
    # @return [Visit, nil] nil if nobody is signed in by that token, or the bench is not theirs to work at
    def at(token, number, wall_ms)
      return unless token

      row = ask(:visit, digest: Sessions.digest(token), number: number) { question }.first
      return unless row

      user = Users::User.new(**PERSON.to_h { |key, name| [name, row[key]] })
      return unless @stores.sessions.alive?(row, user, wall_ms)

      Visit.new(user, Attempt.new(row, @stores.catalogs), !row[:exam_now].nil?)
    end

    private

    def question
      person = PERSON.map { |key, name| Sequel[:users][name].as(key) }
      bench = COLUMNS.map { |name| Sequel[:attempts][name] }
      exam = Attempts.sitting(@database, Sequel[:users][:id])
      @database[:sessions]
        .join(:users, id: Sequel[:sessions][:user_id])
        .join(:attempts, trainee_id: Sequel[:users][:id])
        .where(Sequel[:sessions][:digest] => :$digest, Sequel[:attempts][:id] => :$number)
        .select(Sequel[:sessions][:digest], :seen_ms, *person, *bench, exam.limit(1).as(:exam_now))
        .limit(1)
    end
  end
end
