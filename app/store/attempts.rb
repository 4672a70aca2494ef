# frozen_string_literal: true

module Store
  # Attempts and their logs. An act is acknowledged only once it is on disk.
  class Attempts
    # The bench has gone on since the page that sent the act was drawn.
    class MovedOn < Nurv::Error; end

    SEEN_EVERY_MS = 3_000

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

    # What is to be done first: benches begun, then exams in their order, then the rest, newest first.
    def of_trainee(user)
      order = {"started" => 0, "assigned" => 1, "submitted" => 2, "published" => 2}
      with_names(@rows.where(trainee_id: user.id).exclude(status: "left").reverse(:id)).sort_by.with_index { |attempt, index| [order[attempt.status], attempt.exam? ? 0 : 1, attempt.exam_id ? -attempt.exam_id : 0, attempt.position, index] }
    end

    def of_instructor(user, limit: 60) = with_names(@rows.where(instructor_id: user.id).where(exam_id: nil).exclude(status: "left").exclude(trainee_id: user.id).reverse(:id).limit(limit))

    def of_exam(exam, progress: false) = with_names(@rows.where(exam_id: exam.id).order(:trainee_id, :position), progress: progress)

    def of_class(room) = with_names(@rows.where(class_id: room.id).order(:id))

    # Handed in and not yet published, oldest first.
    def to_review(user, limit: 60) = with_names(waiting(user).order(:submitted_at, :id).limit(limit))

    def count_to_review(user) = waiting(user).count

    # At a bench in practice, for the instructor's practice room.
    def practising(user, progress: false) = with_names(@rows.where(instructor_id: user.id, mode: "practice", status: "started").exclude(trainee_id: user.id).reverse(:seen_wall_ms).limit(40), progress: progress)

    def proctored(user) = with_names(@rows.where(instructor_id: user.id, mode: "proctor").reverse(:id).limit(60))

    def retests_of(attempt) = with_names(@rows.where(retest_of: attempt.id).order(:id))

    # @return [Boolean] this person is in an exam right now
    def examined?(user) = @rows.where(trainee_id: user.id, mode: "exam", status: "started").any?

    def create(station_row:, instructor:, trainee:, mode:, seed:, policy: nil, room: nil)
      find(@rows.insert(station_id: station_row.id, station_body: station_row.body, instructor_id: instructor.id,
        trainee_id: trainee.id, mode: mode, seed: seed, policy_body: policy&.to_json, class_id: room&.id, created_at: Time.now))
    end

    # The same station and policy with another seed, linked to the first try.
    def create_retest(attempt, seed) = once_more(attempt, seed: seed, retest_of: attempt.id)

    # The same bench as it stood before the step that was reached last. A log is only ever added to, so this is a new attempt that
    # begins with the acts up to there; the one left behind stays as it is.
    def step_back(attempt, wall_ms)
      bench = LiveBench.of(attempt)
      until_ms = bench.look { bench.progress.before_last_step_ms }
      kept = log(attempt).select { |action| action.at_ms <= until_ms }
      # Made ready aside, out of anybody's sight, and put in place in one go.
      again = once_more(attempt, status: "left")
      LiveBench.of(again).take_over(again, kept)
      @database.transaction do
        @rows.where(id: attempt.id, status: "started").update(status: "left")
        @rows.where(id: again.id).update(status: "started", started_at: Time.now, anchor_sim_ms: until_ms, anchor_wall_ms: wall_ms, seen_wall_ms: wall_ms)
      end
      find(again.id)
    end

    # The same station and variant once more. The attempt left behind stays as it is.
    def start_over(attempt)
      @database.transaction do
        @rows.where(id: attempt.id, status: "started").update(status: "left")
        once_more(attempt)
      end
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
        attempt
      end
    end

    # Notes that the tester's page is there, and what its gauge shows. Every few seconds is enough for who watches the room.
    def saw(attempt, wall_ms, needle_psid)
      return if wall_ms - attempt.seen_wall_ms.to_i < SEEN_EVERY_MS

      @rows.where(id: attempt.id).update(seen_wall_ms: wall_ms, needle_psid: needle_psid)
    end

    def skip(attempt, seconds)
      @rows.where(id: attempt.id, status: "started").update(anchor_sim_ms: Sequel[:anchor_sim_ms] + seconds * 1000, skipped_ms: Sequel[:skipped_ms] + seconds * 1000)
      find(attempt.id)
    end

    # Writes one act. The same act sent again is not written again.
    #
    # @param known_seq [Integer] the newest act the sender had seen
    # @yield the state after the act, worked out before anything is written
    # @return [Boolean] true if written now, false if it was there already
    # @raise [MovedOn] if another act came first
    def append(attempt, action, known_seq, snapshot, progress = nil)
      @database.transaction do
        return false if @events.where(attempt_id: attempt.id, action_id: action.id).any?

        seq = @rows.where(id: attempt.id).get(:last_seq)
        raise MovedOn, "The bench has moved on in another window." unless seq == known_seq

        @events.insert(attempt_id: attempt.id, seq: seq + 1, action_id: action.id, at_ms: action.at_ms,
          body: action.to_json, recorded_at: Time.now)
        changes = (action.kind == :submit) ? {status: "submitted", submitted_at: Time.now} : {}
        @rows.where(id: attempt.id).update(last_seq: seq + 1, **changes)
        kept = {seq: seq + 1, body: snapshot, progress: progress}
        @database[:snapshots].insert_conflict(target: :attempt_id, update: kept).insert(attempt_id: attempt.id, **kept)
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

    # @return [Array(Integer, String, String), nil] number, text and progress of the newest snapshot
    def snapshot(attempt) = @database[:snapshots].where(attempt_id: attempt.id).get([:seq, :body, :progress])

    def extend_time(attempt, minutes) = @rows.where(id: attempt.id).update(extra_ms: Sequel[:extra_ms] + minutes * 60_000)

    def comment(attempt, text) = @rows.where(id: attempt.id).update(comment: text)

    # All of these, or none.
    def publish_all(exam) = @rows.where(exam_id: exam.id, status: "submitted").update(status: "published", published_at: Time.now)

    # Hands in for those whose time is over, and for all when an exam is closed: what was done by then is graded.
    #
    # @param attempts [Array<Attempt>]
    def hand_in(attempts, wall_ms)
      attempts.each do |attempt|
        next unless attempt.started?

        tries ||= 0
        LiveBench.of(attempt).hand_in(attempt, wall_ms)
      rescue MovedOn
        # An act came in between; with it the bench is handed in.
        attempt = find(attempt.id)
        ((tries += 1) < 3) ? retry : warn("handing in attempt #{attempt.id}: acts keep coming in")
      rescue Nurv::Error => error
        # One bench that cannot be handed in must not keep the others from being so.
        warn "handing in attempt #{attempt.id}: #{error.message}"
      end
    end

    # Those of an exam that were never begun are handed in empty.
    def give_up(exam) = @rows.where(exam_id: exam.id, status: "assigned").update(status: "submitted", submitted_at: Time.now)

    def publish(attempt)
      @rows.where(id: attempt.id, status: "submitted").update(status: "published", published_at: Time.now)
    end

    private

    # @param changed [Hash] what is not as it was
    def once_more(attempt, **changed)
      row = @rows.first(id: attempt.id).slice(:station_id, :station_body, :instructor_id, :trainee_id, :mode, :seed, :policy, :policy_body, :class_id)
      find(@rows.insert(**row, created_at: Time.now, **changed))
    end

    def waiting(user) = @rows.where(instructor_id: user.id, status: "submitted").exclude(mode: "practice")

    def wrap(row) = row && Attempt.new(row)

    def with_names(rows, progress: false)
      people = @database[:users].where(id: rows.select(:trainee_id)).select_hash(:id, :name)
      notes = progress ? @database[:snapshots].where(attempt_id: rows.select(:id)).select_hash(:attempt_id, :progress) : {}
      rows.map { |row| Attempt.new(row, trainee_name: people[row[:trainee_id]], progress: notes[row[:id]] && JSON.parse(notes[row[:id]], symbolize_names: true)) }
    end
  end
end
