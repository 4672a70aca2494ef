# frozen_string_literal: true

require "digest"

module Store
  # Grades as they were worked out, kept so that lists are quick; and what an instructor overrode. The computed grade
  # is never touched: overrides lie beside it.
  class Grades < Drawer
    Override = Struct.new(:id, :attempt_id, :line, :earned, :reason, :user_id, :at, :by, keyword_init: true)
    # A grade with the overrides laid over it.
    Standing =
      Struct.new(:score, :pass, :computed_score, :mistakes, :overridden, :outright, :near, keyword_init: true)

    # How a grade is kept; what was kept otherwise is worked out anew.
    KEPT_AS = 2

    def initialize(stores)
      super
      @rows = @database[:grades]
      @overrides = @database[:overrides]
    end

    # @return [Nurv::Grading::Grade] as computed
    def computed(attempt)
      key = key_of(attempt)
      row = @rows.first(attempt_id: attempt.id, key: key)
      if row
        Nurv::Grading::Grade.load(row[:body], attempt.grading_policy, attempt.procedures)
      else
        keep(attempt, key)
      end
    end

    def with_overrides(attempt) =
      computed(attempt).overridden(overrides(attempt).to_h { |item| [item.line, item.earned] })

    # The newest override of each line.
    #
    # @return [Array<Override>]
    def overrides(attempt)
      people = nil
      @overrides
        .where(attempt_id: attempt.id)
        .order(:id)
        .all
        .group_by { |row| row[:line] }
        .values
        .map(&:last)
        .map do |row|
          people ||= @database[:users].select_hash(:id, :name)
          Override.new(**row, by: people[row[:user_id]])
        end
    end

    def override(attempt, user, line:, earned:, reason:)
      # Graded before the database is held: that may take a while.
      grade = computed(attempt)
      @database.transaction do
        @overrides.insert(
          attempt_id: attempt.id,
          user_id: user.id,
          line: line,
          earned: earned,
          reason: reason,
          at: Clock.now
        )
        @rows.where(attempt_id: attempt.id).update(standing: standing(attempt, grade))
      end
    end

    # @param attempts [Array<Attempt>]
    # @return [Hash{Integer => Standing}] by attempt; those not graded yet are missing
    def standings(attempts)
      over = attempts.select(&:over?)
      @rows
        .where(attempt_id: over.map(&:id))
        .select(:attempt_id, :score, :pass, :standing, :mistakes, :key)
        .to_h do |row|
          standing = JSON.parse(row[:standing], symbolize_names: true)
          [
            row[:attempt_id],
            Standing.new(**standing, computed_score: row[:score], mistakes: JSON.parse(row[:mistakes]).map(&:to_sym))
          ]
        end
    end

    # Those handed in whose grade is not there, or is of another policy, and can be worked out.
    #
    # @return [Array<Attempt>]
    def missing(attempts)
      over = attempts.select(&:over?)
      keys = @rows.where(attempt_id: over.map(&:id)).select_hash(:attempt_id, :key)
      list = over.reject { |attempt| keys[attempt.id] == key_of(attempt) }
      return list if list.empty?

      failed = problems(list)
      list.reject { |attempt| failed.key?(attempt.id) }
    end

    # @return [Integer, nil] version of the water's laws that the kept grade was worked out under
    def water_of(attempt) = @rows.where(attempt_id: attempt.id).get(:water)

    # @return [Boolean] its bench would answer otherwise now, if only a little
    def of_older_water?(attempt)
      kept = water_of(attempt)
      !kept.nil? && kept < Nurv::Hydraulics::VERSION
    end

    # Works it out again, by the water as it is now. What was overridden stays.
    #
    # @return [Nurv::Grading::Grade]
    def renew(attempt) = keep(attempt, key_of(attempt))

    # Puts what is missing on the list of work.
    #
    # @return [Array<Attempt>] those still to be graded
    def want(attempts)
      jobs = @stores.jobs
      missing(attempts).each do |attempt|
        jobs.push("grade", subject: attempt.id, attempt_id: attempt.id, key: key_of(attempt))
      end
    end

    # Puts on the list once more what has failed.
    def try_again(attempt) =
      @stores.jobs.try_again("grade", subject: attempt.id, attempt_id: attempt.id, key: key_of(attempt))

    # Why working it out has failed, with this log under this policy.
    #
    # @return [String, nil]
    def problem_with(attempt) = problems([attempt])[attempt.id]

    # Grades one of many: a log that cannot be graded must not keep the others.
    def try(attempt)
      computed(attempt)
    rescue Nurv::Error => error
      warn "grading attempt #{attempt.id}: #{error.message}"
      nil
    end

    # The grades of a list of attempts as they are kept, plain.
    #
    # @return [Hash{Integer => Hash}] procedure [String] and lines [Array<Hash>] by attempt
    def plain(attempts) =
      @rows
        .where(attempt_id: attempts.map(&:id))
        .select_hash(:attempt_id, :body)
        .transform_values { |body| JSON.parse(body, symbolize_names: true) }

    private

    # @return [Hash{Integer => String}] by attempt
    def problems(attempts)
      jobs =
        @database[:jobs].where(kind: "grade", state: "failed", subject: attempts.map { |attempt| attempt.id.to_s })
      failed = jobs.select_map(%i[body problem]).to_h { |body, problem| [JSON.parse(body)["key"], problem] }
      attempts.filter_map { |attempt| [attempt.id, failed[key_of(attempt)]] if failed.key?(key_of(attempt)) }.to_h
    end

    def key_of(attempt) =
      Digest::SHA256.hexdigest(
        "#{KEPT_AS}/#{Nurv::Grading::Grader::RULES}/#{attempt.last_seq}/#{attempt.policy_body || attempt.policy}"
      )[
        0,
        24
      ]

    def keep(attempt, key)
      grade =
        Nurv::Grading::Grader.grade(
          attempt.variant,
          @stores.attempts.log(attempt),
          policy: attempt.grading_policy,
          met: @stores.attempts.met(attempt)
        )
      values = {
        key: key,
        score: grade.score,
        pass: grade.pass?,
        body: grade.dump,
        water: Nurv::Hydraulics::VERSION,
        mistakes: JSON.generate(grade.mistakes),
        standing: standing(attempt, grade)
      }
      @rows.insert_conflict(target: :attempt_id, update: values).insert(attempt_id: attempt.id, **values)
      @stores.attempts.forget_met(attempt)
      grade
    end

    def standing(attempt, grade)
      list = overrides(attempt)
      final = grade.overridden(list.to_h { |item| [item.line, item.earned] })
      JSON.generate(
        score: final.score,
        pass: final.pass?,
        overridden: list.size,
        outright: final.failed_outright.any?,
        near: final.near_pass_mark?
      )
    end
  end
end
