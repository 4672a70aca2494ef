# frozen_string_literal: true

module Store
  # What was drilled, and how it went.
  class Drills < Drawer
    # drill, procedure [Symbol]; steps [Array<Symbol>] what it was about; score [Float] 0..100; ms [Integer] it took
    Try =
      Struct.new(
        :user_id, :class_id, :attempt_id, :drill, :procedure, :steps, :score, :ms, :done_at, keyword_init: true
      )
    # So many are told of one drill.
    LAST = 10

    def initialize(stores)
      super
      @rows = @database[:drill_tries]
      @sets = @database[:drill_sets]
      @predictions = @database[:predictions]
    end

    # Once for each bench: a page that is loaded again counts nothing twice.
    #
    # @param attempt [Attempt] drilled and handed in
    # @return [Try] as it is kept
    def keep(attempt, drill:, procedure:, steps:, score:, ms:)
      @rows.insert_conflict(target: :attempt_id).insert(
        user_id: attempt.trainee_id,
        class_id: attempt.class_id,
        attempt_id: attempt.id,
        drill: drill.to_s,
        procedure: procedure.to_s,
        steps: steps.join(" "),
        score: score,
        ms: ms,
        done_at: Clock.now
      )
      wrap(@rows.first(attempt_id: attempt.id))
    end

    # @return [Hash{Symbol => Array<Try>}] by drill, the newest first, the last few
    def of(user) =
      @rows
        .where(user_id: user.id)
        .reverse(:id)
        .limit(400)
        .map { |row| wrap(row) }
        .group_by(&:drill)
        .transform_values { |tries| tries.first(LAST) }

    # @param id [Symbol] of a case
    # @param score [Float] 0..100
    def keep_prediction(user, id, score) =
      @predictions.insert(user_id: user.id, case: id.to_s, score: score, done_at: Clock.now)

    # @return [Hash{Symbol => Float}] case => how the last prediction of it went
    def predictions(user) =
      @predictions.where(user_id: user.id).order(:id).select_map(%i[case score]).to_h { |id, score| [id.to_sym, score] }

    # How somebody's predictions of the eight cases stand: count of them, score [Float] 0..100 of all, last_at [Time]
    Predicted = Struct.new(:count, :score, :last_at, keyword_init: true)

    # @return [Predicted, nil] the last of each case, one never made counting nothing
    def predicted(user)
      cases = predictions(user)
      return if cases.empty?

      Predicted.new(
        count: cases.size,
        score: (cases.values.sum / Nurv::Teaching::Principles.cases.size).round(1),
        last_at: @predictions.where(user_id: user.id).reverse(:id).get(:done_at)
      )
    end

    # Ten or so drills for each of these people, in this order.
    #
    # @param given [Hash{Integer => Array<Symbol>}] user's id => drills
    def give(course, given)
      rows = given.map do |id, drills|
        {class_id: course.id, user_id: id, drills: drills.join(" "), given_at: Clock.now}
      end
      @sets.multi_insert(rows)
    end

    # @return [Array<Symbol>] of the newest set that was given to them, what is still to be done
    def left_of_set(user)
      set = @sets.where(user_id: user.id).reverse(:id).first or return []
      done = @rows.where(user_id: user.id).where { done_at >= set[:given_at] }.select_map(:drill).tally
      done[Nurv::Teaching::Principles::SKILL.to_s] = 1 if all_predicted_since?(user, set[:given_at])
      set[:drills].split.reject { |drill| (done[drill] = done[drill].to_i - 1) >= 0 }.map(&:to_sym)
    end

    # @return [Array<Try>] of all in a class, the newest first
    def of_class(course) = @rows.where(class_id: course.id).reverse(:id).limit(4_000).map { |row| wrap(row) }

    private

    def all_predicted_since?(user, time)
      since = @predictions.where(user_id: user.id).where { done_at >= time }.distinct.select_map(:case)
      since.size >= Nurv::Teaching::Principles.cases.size
    end

    def wrap(row)
      return unless row

      Try.new(
        **row.slice(:user_id, :class_id, :attempt_id, :score, :ms, :done_at),
        drill: row[:drill].to_sym,
        procedure: row[:procedure].to_sym,
        steps: row[:steps].split.map(&:to_sym)
      )
    end
  end
end
