# frozen_string_literal: true

module Work
  # Does what is on the list, one piece after the other. Runs in a process of its own beside the server; a test may
  # run it itself.
  class Runner
    KINDS = {
      "grade" => "Grading",
      "grade_again" => "GradingAgain",
      "generate" => "Generating",
      "export" => "Exporting",
      "import" => "Importing",
      "regrade" => "Regrading",
      "prove" => "Proving",
      "drill" => "Preparing"
    }.freeze
    # What its owner reads meanwhile.
    WORDS = {
      "grade" => "Grading",
      "grade_again" => "Grading by the water of today",
      "generate" => "Making stations and trying each",
      "export" => "Writing the file",
      "import" => "Reading the class in",
      "regrade" => "Grading under the other policy",
      "prove" => "Trying the procedure",
      "drill" => "Making a drill ready"
    }.freeze
    # Between two looks at the clock: time that runs out, exams that open.
    ROUND_MS = 2_000

    # @param stores [Store::Cabinet]
    # @param keeper [Benches::Keeper]
    def initialize(stores, keeper)
      @stores = stores
      @jobs = stores.jobs
      @rounds = Rounds.new(stores, keeper)
    end

    # Goes on until told otherwise.
    #
    # @yieldreturn [Boolean] whether to go on
    def run(pause_s: 0.25)
      @jobs.reopen
      while yield
        busy = tick
        sleep pause_s unless busy
      end
    end

    # @return [Boolean] whether there was something to do
    def tick
      go_round if Clock.wall_ms - @went_ms.to_i > ROUND_MS
      @jobs.reclaim
      job = @jobs.take
      job && carry_out(job)
      !job.nil?
    rescue Sequel::DatabaseError => error
      warn "work: #{error.message.lines.first}"
      false
    end

    # Everything that waits, now.
    def work_off
      while (job = @jobs.take) && carry_out(job)
        nil
      end
    end

    private

    # Set before anything is done: a round that fails is not begun again at once, and keeps no work from being done.
    def go_round
      @went_ms = Clock.wall_ms
      @rounds.go(@went_ms)
      @jobs.sweep.each { |job| Files.remove(job) }
    rescue => error
      warn "round: #{error.class}: #{error.message.lines.first&.strip}"
    end

    def carry_out(job)
      work = Work.const_get(KINDS.fetch(job.kind)).new(job.data, @stores)
      outcome = work.call(job) { |done, total| @jobs.progress(job, done, total) }
      @jobs.finish(job, outcome || {})
      true
    rescue Nurv::Error => error
      @jobs.fail(job, @stores.catalog.words.error(error))
      true
    rescue => error
      # Not the work's fault: it is taken up again, later each time.
      return @jobs.wait_again(job) if Store::Trouble.passing?(error) && job.tries < Store::Jobs::MOST_TRIES_WHEN_BUSY

      warn "work #{job.id} (#{job.kind}): #{error.class}: #{error.message}\n  #{error.backtrace.first(5).join("\n  ")}"
      @jobs.fail(job, "It could not be done; the server's log says why.")
      true
    end
  end
end
