# frozen_string_literal: true

module Store
  # Attempts and their logs. An act is acknowledged only once it is on disk.
  class Attempts
    # The bench has gone on since the page that sent the act was drawn.
    class MovedOn < Nurv::Error; end

    def initialize(database = DB)
      @database = database
      @rows = database[:attempts]
      @events = database[:events]
    end

    def find(id) = wrap(@rows.first(id: id))

    # @return [Attempt, nil] if this person is its trainee or its instructor
    def find_for(user, id)
      attempt = find(id)
      attempt if attempt && [attempt.trainee_id, attempt.instructor_id].include?(user.id)
    end

    def of_trainee(user) = with_names(@rows.where(trainee_id: user.id).reverse(:id))

    def of_instructor(user, limit: 200) = with_names(@rows.where(instructor_id: user.id).reverse(:id).limit(limit))

    # @return [Boolean] this person is in an exam right now
    def examined?(user) = @rows.where(trainee_id: user.id, mode: "exam", status: "started").any?

    def create(station_row:, instructor:, trainee:, mode:, seed:, policy: "standard")
      id = @rows.insert(station_id: station_row.id, station_body: station_row.body, instructor_id: instructor.id,
        trainee_id: trainee.id, mode: mode, seed: seed, policy: policy, created_at: Time.now)
      find(id)
    end

    # Starts the clock. Starting twice changes nothing.
    def begin(attempt, wall_ms)
      @rows.where(id: attempt.id, status: "assigned")
        .update(status: "started", anchor_wall_ms: wall_ms, anchor_sim_ms: 0, seen_wall_ms: wall_ms, started_at: Time.now)
      find(attempt.id)
    end

    # Somebody is at the bench. In practice the clock stands still while nobody is.
    def seen(attempt, wall_ms, idle_ms)
      if attempt.mode == "practice" && attempt.seen_wall_ms && wall_ms - attempt.seen_wall_ms > idle_ms
        lost = wall_ms - attempt.seen_wall_ms - idle_ms
        @rows.where(id: attempt.id).update(anchor_wall_ms: attempt.anchor_wall_ms + lost, seen_wall_ms: wall_ms)
        find(attempt.id)
      else
        @rows.where(id: attempt.id).update(seen_wall_ms: wall_ms) if wall_ms - attempt.seen_wall_ms.to_i > 5_000
        attempt
      end
    end

    def skip(attempt, seconds)
      @rows.where(id: attempt.id, status: "started", mode: "practice").update(anchor_sim_ms: Sequel[:anchor_sim_ms] + seconds * 1000)
      find(attempt.id)
    end

    # Writes one act. The same act sent again is not written again.
    #
    # @param known_seq [Integer] the newest act the sender had seen
    # @yield the state after the act, worked out before anything is written
    # @return [Boolean] true if written now, false if it was there already
    # @raise [MovedOn] if another act came first
    def append(attempt, action, known_seq, snapshot)
      @database.transaction do
        return false if @events.where(attempt_id: attempt.id, action_id: action.id).any?

        seq = @rows.where(id: attempt.id).get(:last_seq)
        raise MovedOn, "The bench has moved on in another window." unless seq == known_seq

        @events.insert(attempt_id: attempt.id, seq: seq + 1, action_id: action.id, at_ms: action.at_ms,
          body: action.to_json, recorded_at: Time.now)
        changes = (action.kind == :submit) ? {status: "submitted", submitted_at: Time.now} : {}
        @rows.where(id: attempt.id).update(last_seq: seq + 1, **changes)
        @database[:snapshots].insert_conflict(target: :attempt_id, update: {seq: seq + 1, body: snapshot})
          .insert(attempt_id: attempt.id, seq: seq + 1, body: snapshot)
        true
      end
    end

    def recorded?(attempt, action_id) = @events.where(attempt_id: attempt.id, action_id: action_id).any?

    # @return [Array<Nurv::Bench::Action>] acts after this number
    def actions_after(attempt, seq)
      @events.where(attempt_id: attempt.id).where { self.seq > seq }.order(:seq).select_map(:body)
        .map { |body| Nurv::Bench::Action.parse(body) }
    end

    def log(attempt) = Nurv::Bench::Log.new(actions_after(attempt, 0))

    # @return [Array(Integer, String), nil] number and text of the newest snapshot
    def snapshot(attempt) = @database[:snapshots].where(attempt_id: attempt.id).get([:seq, :body])

    def publish(attempt)
      @rows.where(id: attempt.id, status: "submitted").update(status: "published", published_at: Time.now)
    end

    private

    def wrap(row) = row && Attempt.new(row)

    def with_names(rows)
      people = @database[:users].where(id: rows.select(:trainee_id)).select_hash(:id, :name)
      rows.map { |row| Attempt.new(row, trainee_name: people[row[:trainee_id]]) }
    end
  end
end
