# frozen_string_literal: true

require "json"

module Store
  # Long work that waits for the second process, is under way, or is done. A row a piece; it survives a restart.
  class Jobs < Drawer
    Job =
      Struct.new(
        :id,
        :owner_id,
        :kind,
        :subject,
        :body,
        :state,
        :done,
        :total,
        :tries,
        :outcome,
        :problem,
        :made_ms,
        :ended_ms,
        :from_ms,
        :lease_ms,
        keyword_init: true
      ) do
        def data = JSON.parse(body, symbolize_names: true)

        def result = outcome && JSON.parse(outcome, symbolize_names: true)

        def over? = %w[done failed].include?(state)

        def failed? = state == "failed"

        # @return [Float] from 0 to 1
        def share = total.positive? ? done / total.to_f : 0.0
      end
    # A piece that takes a process down with it is not tried for ever.
    MOST_TRIES = 3
    # The database was busy when it was tried: that is nobody's fault, and passes.
    MOST_TRIES_WHEN_BUSY = 12
    WAITS_S = [1, 2, 4, 8, 15, 30].freeze
    # A piece that says nothing of itself for so long is taken to be dead: its process was, or could not even write
    # that it had failed.
    LEASE_MS = 180_000
    KEPT_MS = 24 * 3_600_000

    def initialize(stores)
      super
      @rows = @database[:jobs]
    end

    # Puts work on the list; what waits there already for the same subject is not put there again.
    #
    # @return [Integer] its number
    def push(kind, owner: nil, subject: "", total: 0, **data)
      subject = subject.to_s
      @database.transaction do
        waiting = subject.empty? ? nil : @rows.where(kind: kind.to_s, subject: subject, state: "waiting").get(:id)
        next waiting if waiting

        @rows.insert(
          owner_id: owner&.id,
          kind: kind.to_s,
          subject: subject,
          body: JSON.generate(data),
          total: total,
          made_ms: Clock.wall_ms
        )
      end
    end

    def find(id) = wrap(@rows.first(id: id))

    # @return [Job, nil] only if this owner's
    def find_for(owner, id) = wrap(@rows.first(id: id, owner_id: owner.id))

    # Takes the next piece, the short work of a single grade before the long.
    #
    # @return [Job, nil]
    def take
      @database.transaction do
        now_ms = Clock.wall_ms
        ready = @rows.where(state: "waiting").where { from_ms <= now_ms }
        row = ready.order(Sequel.case({{kind: "grade"} => 0}, 1), :id).first or next
        @rows.where(id: row[:id]).update(state: "working", tries: row[:tries] + 1, lease_ms: now_ms + LEASE_MS)
        find(row[:id])
      end
    end

    # @return [Boolean] the same owner has asked for the same kind of work since
    def newer?(job) =
      !@rows.where(owner_id: job.owner_id, kind: job.kind, state: "waiting").where { id > job.id }.empty?

    # Says how far it is, and that it is alive.
    def progress(job, done, total) =
      @rows.where(id: job.id).update(done: done, total: total, lease_ms: Clock.wall_ms + LEASE_MS)

    def finish(job, outcome) = end_with(job, state: "done", outcome: JSON.generate(outcome))

    # @param sentence [String] for who asked for it
    def fail(job, sentence) = end_with(job, state: "failed", problem: sentence)

    # Puts it back on the list, for later each time.
    #
    # @return [Boolean] whether that could be written; if not, its lease runs out
    def wait_again(job)
      wait_s = WAITS_S[job.tries - 1] || WAITS_S.last
      @rows.where(id: job.id).update(state: "waiting", from_ms: Clock.wall_ms + wait_s * 1000, lease_ms: nil)
      true
    rescue Sequel::DatabaseError => error
      warn "work #{job.id}: #{error.message.lines.first&.strip}"
      false
    end

    # What was being done by nobody any more goes back on the list.
    def reclaim
      dead = @rows.where(state: "working").where { (lease_ms =~ nil) | (lease_ms < Clock.wall_ms) }
      return if dead.empty?

      give_up(dead)
      dead.update(state: "waiting", lease_ms: nil)
    end

    # Forgets that it failed, and puts it on the list once more.
    #
    # @return [Integer] its number
    def try_again(kind, subject:, **data)
      @database.transaction do
        @rows.where(kind: kind, subject: subject.to_s, state: "failed").delete
        push(kind, subject: subject, **data)
      end
    end

    # What was under way when the process ended is begun again; what has brought it down before is not.
    def reopen
      give_up(@rows.where(state: "working"))
      @rows.where(state: "working").update(state: "waiting", lease_ms: nil)
    end

    # What ended a day ago, with the files it made.
    #
    # @return [Array<Job>] what was removed
    def sweep
      old = @rows.exclude(ended_ms: nil).where { ended_ms < Clock.wall_ms - KEPT_MS }.all.map { |row| wrap(row) }
      @rows.where(id: old.map(&:id)).delete
      old
    end

    # @return [Boolean] something of this kind is made, or being made
    def ready?(kind, subject) = !@rows.where(kind: kind, subject: subject, state: %w[waiting working done]).empty?

    # What was made before, for whoever comes first: it is gone from the list then.
    #
    # @return [Hash, nil]
    def take_outcome(kind, subject)
      @database.transaction do
        row = @rows.where(kind: kind, subject: subject, state: "done").order(:id).first or next
        @rows.where(id: row[:id]).delete
        wrap(row).result.then { |made| made unless made.empty? }
      end
    end

    def length = @rows.where(state: %w[waiting working]).count

    def idle? = length.zero?

    private

    def give_up(rows) =
      rows.where { tries >= MOST_TRIES }.update(
        state: "failed",
        problem: "It could not be finished; three tries ended early.",
        ended_ms: Clock.wall_ms,
        lease_ms: nil
      )

    def end_with(job, **values) = @rows.where(id: job.id).update(ended_ms: Clock.wall_ms, **values)

    def wrap(row) = row && Job.new(**row)
  end
end
