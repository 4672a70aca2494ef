# frozen_string_literal: true

module Store
  # Attempts and their logs. An act is acknowledged only once it is on disk.
  class Attempts < Drawer
    # The bench has gone on since the page that sent the act was drawn.
    class MovedOn < Nurv::Error
    end

    # An act of its log cannot be read.
    class Damaged < Nurv::Error
    end

    SEEN_EVERY_MS = 3_000
    SEEN_WRITTEN_EVERY_MS = 1_000
    SNAPSHOT = {seq: :$seq, body: :$body, progress: :$progress, running: :$running}.freeze
    # After publishing.
    TAKE_BACK_S = 600

    def initialize(stores)
      super
      @rows = @database[:attempts]
      @events = @database[:events]
      @seen = {}
      @ran_on = {}
      @seen_written_ms = 0
      @seen_lock = Mutex.new
    end

    def find(id) = wrap(ask(:attempt_of_number, id: id) { @rows.where(id: :$id).limit(1) }.first)

    # @return [Attempt, nil] if this person is its trainee or its instructor
    def find_for(user, id)
      attempt = find(id)
      attempt if attempt && [attempt.trainee_id, attempt.instructor_id].include?(user.id)
    end

    # What is to be done first: benches begun, then exams in their order, then the rest, newest first.
    def of_trainee(user)
      order = Hash.new(2).merge(Status::STARTED => 0, Status::ASSIGNED => 1)
      with_names(@rows.where(trainee_id: user.id, drill: nil).exclude(status: Status::LEFT).reverse(:id))
        .sort_by
        .with_index do |attempt, index|
        [
          order[attempt.status],
          attempt.exam? ? 0 : 1,
          attempt.exam_id ? -attempt.exam_id : 0,
          attempt.position,
          index
        ]
      end
    end

    def of_instructor(user, limit: 60) =
      with_names(
        @rows
          .where(instructor_id: user.id)
          .where(exam_id: nil, drill: nil)
          .exclude(status: Status::LEFT)
          .exclude(trainee_id: user.id)
          .reverse(:id)
          .limit(limit)
      )

    def of_exam(exam) = of_exam_number(exam.id)

    def of_exam_number(id) = with_names(@rows.where(exam_id: id).order(:trainee_id, :position))

    # Every bench of an exam with how far it is, those that cannot be read among them.
    #
    # @return [Array<Attempt>]
    def room_of(exam) = named(@rows.where(exam_id: exam.id).order(:trainee_id, :position), progress: true)

    def of_class(course) = with_names(@rows.where(class_id: course.id, drill: nil).order(:id))

    # What one person has and had in a class.
    def of_member(course, user) =
      with_names(
        @rows.where(class_id: course.id, trainee_id: user.id, drill: nil).exclude(status: Status::LEFT).reverse(:id)
      )

    # Those of these numbers that are this person's, as trainee or instructor.
    def of_ids(user, ids) =
      @rows.where(id: ids).where(Sequel.or(trainee_id: user.id, instructor_id: user.id)).map { |row| wrap(row) }

    # Handed in and not yet published, oldest first.
    def to_review(user, limit: 60) = with_names(waiting(user).order(:submitted_at, :id).limit(limit))

    # Those of an instructor that cannot be read any more: told by number, and nothing else is kept from being shown
    # by them.
    #
    # @return [Array<Integer>]
    def damaged(user)
      own = @rows.where(instructor_id: user.id).exclude(status: Status::LEFT)
      # Attempts share their stations and policies, so there is little to read.
      kept = own.select(:station_body, :policy_body, :policy, :catalog).distinct.all
      bad = kept.reject { |row| Attempt.new(row, @stores.catalogs).sound? }
      bad.empty? ? [] : own.where(Sequel.|(*bad)).order(:id).select_map(:id)
    end

    def count_to_review(user) = waiting(user).count

    # At a bench in practice, for the instructor's practice room.
    def practising(user, progress: false) =
      with_names(
        @rows
          .where(instructor_id: user.id, mode: "practice", status: Status::STARTED)
          .exclude(trainee_id: user.id)
          .reverse(:seen_wall_ms)
          .limit(40),
        progress: progress
      )

    def proctored(user) = with_names(@rows.where(instructor_id: user.id, mode: "proctor").reverse(:id).limit(60))

    def retests_of(attempt) = with_names(@rows.where(retest_of: attempt.id).order(:id))

    # Every bench at work under exam conditions, whoever's.
    def under_exam = @rows.where(mode: "exam", status: Status::STARTED).map { |row| wrap(row) }

    # From the opening of an exam to the last hand-in, between its benches as well.
    #
    # @return [Boolean] this person sits an exam right now
    def examined?(user) =
      ask(:exam_of_trainee, trainee: user.id) { self.class.sitting(@database, :$trainee).limit(1) }.any?

    # @param trainee [Symbol, Sequel::SQL::Expression] whose
    # @return [Sequel::Dataset] benches that somebody sits an exam at: begun, or to be begun in one that is open
    def self.sitting(database, trainee)
      sat = Sequel[:sat]
      open = database[:exams].where(status: [Status::OPEN, Status::PAUSED]).select(:id)
      begun = {sat[:status] => Status::STARTED}
      waiting = {sat[:status] => Status::ASSIGNED, sat[:exam_id] => open}
      database
        .from(Sequel[:attempts].as(:sat))
        .where(sat[:trainee_id] => trainee, sat[:mode] => "exam")
        .where(Sequel.|(begun, waiting))
        .select(sat[:id])
    end

    # @param more [Hash] columns besides
    def create(station_row:, instructor:, trainee:, mode:, seed:, policy: nil, course: nil, **more)
      row = row_for(station_row, trainee, instructor, mode: mode, seed: seed, policy: policy, course: course)
      find(@rows.insert(**row, **more))
    end

    # A practice bench for each of these people at each of these stations, each with a variant of their own. All or
    # none.
    #
    # @return [Integer] how many
    def create_many(stations, trainees, instructor:, policy:, course:)
      rows =
        trainees
          .product(stations)
          .map do |trainee, station|
            row_for(
              station,
              trainee,
              instructor,
              mode: "practice",
              seed: rand(1..999_999),
              policy: policy,
              course: course
            )
          end
      @rows.multi_insert(rows)
      rows.size
    end

    # The same station and policy with another seed, linked to the first try.
    def create_retest(attempt, seed) = once_more(attempt, seed: seed, retest_of: attempt.id)

    # A bench like this one with nothing done at it, out of anybody's sight until it is put in place.
    #
    # @return [Attempt]
    def aside(attempt, **changed) = once_more(attempt, status: Status::LEFT, **changed)

    # Puts one bench in another's place, begun, its clock at a moment. The one left behind stays as it is.
    #
    # @param at_ms [Integer] simulated time
    # @param more [Hash] columns besides
    # @return [Attempt] the one in place
    def put_in_place(attempt, again, at_ms:, wall_ms:, **more)
      @database.transaction do
        leave(attempt)
        Status::ATTEMPT.move(
          @rows.where(id: again.id),
          from: Status::LEFT,
          to: Status::STARTED,
          started_at: Clock.now,
          anchor_sim_ms: at_ms,
          anchor_wall_ms: wall_ms,
          seen_wall_ms: wall_ms,
          **more
        )
      end
      find(again.id)
    end

    # A bench like this one to practise at, with nothing done at it.
    #
    # @param changed [Hash] what is not as it was, like a seed
    # @return [Attempt]
    def practise_again(attempt, **changed) = once_more(attempt, mode: "practice", **changed)

    # The same station and variant once more. The attempt left behind stays as it is.
    def start_over(attempt)
      @database.transaction do
        leave(attempt)
        once_more(attempt)
      end
    end

    # Starts the clock. Starting twice changes nothing.
    #
    # @return [Attempt] as it is now
    def begin(attempt, wall_ms)
      start_clock(attempt, wall_ms)
      find(attempt.id)
    end

    # The same for who need not know how it is now.
    def start_clock(attempt, wall_ms)
      Status::ATTEMPT.move(
        @rows.where(id: attempt.id),
        from: Status::ASSIGNED,
        to: Status::STARTED,
        started_at: Clock.now,
        **attempt.clock.begin(wall_ms).changes_from(attempt.clock)
      )
    end

    # Somebody is at the bench: a practice bench that stood still goes on from where it stood.
    #
    # @return [Attempt] as it is now
    def seen(attempt, wall_ms)
      return attempt unless attempt.started? && attempt.clock.idle?(wall_ms)

      change_clock(attempt.id) { |clock| clock.seen(wall_ms) }
    rescue Sequel::DatabaseError => error
      # It rests for a moment longer: looking must not fail because nothing can be written.
      warn "seen: #{error.message.lines.first}"
      attempt
    end

    # Notes that the tester's page is there, and what its gauge shows. Every few seconds is enough for who watches the
    # room, and once a second is written for all benches together; a bench is looked at even where nothing can be
    # written.
    def saw(attempt, wall_ms, needle_psid)
      return if wall_ms - attempt.seen_wall_ms.to_i < SEEN_EVERY_MS

      seen, ran_on = @seen_lock.synchronize do
        @seen[attempt.id] = [wall_ms, needle_psid]
        next if (wall_ms - @seen_written_ms).between?(0, SEEN_WRITTEN_EVERY_MS)

        @seen_written_ms = wall_ms
        [@seen, @ran_on].tap { @seen, @ran_on = {}, {} }
      end
      write_seen(seen, ran_on) if seen
    end

    # Keeps how far a bench's water has run on since an act, beside its snapshot; written with what is seen next.
    #
    # @param seq [Integer] of that act
    # @param running [String] as Nurv::Bench::Snapshot writes it
    def ran_on(id, seq, running) = @seen_lock.synchronize { @ran_on[id] = [seq, running] }

    def skip(attempt, seconds) = change_clock(attempt.id) { |clock| clock.skip(seconds * 1000) }

    # Sets a bench's clock to what it becomes, from how it stands in the database.
    #
    # @param id [Integer] of the attempt
    # @yieldparam [BenchClock]
    # @yieldreturn [BenchClock]
    # @return [Attempt]
    def change_clock(id)
      @database.transaction do
        there = find(id)
        changes = yield(there.clock).changes_from(there.clock)
        next there if changes.empty? || !there.started?

        @rows.where(id: id).update(changes)
        find(id)
      end
    end

    # Writes one act. The same act sent again is not written again.
    #
    # @param known_seq [Integer] the newest act the sender had seen
    # @param running [String, nil] how far its water has run on since it was last changed
    # @param seen [Hash, nil] that the tester is there, and what the gauge shows, as `saw` notes it
    # @param met [String, nil] what the act met with: see #met
    # @return [Boolean] true if written now, false if it was there already
    # @raise [MovedOn] if another act came first
    def append(attempt, action, known_seq, snapshot, progress = nil, running: nil, seen: nil, met: nil)
      @database.transaction do
        if moved_on(attempt, action, known_seq, seen).zero?
          return false if recorded?(attempt, action.id)

          raise MovedOn, "The bench has moved on in another window."
        end
        insert(attempt, action, known_seq + 1, met)
        keep_snapshot(attempt_id: attempt.id, seq: known_seq + 1, body: snapshot, progress: progress, running: running)
        true
      end
    rescue Sequel::UniqueConstraintViolation
      false
    end

    def recorded?(attempt, action_id)
      ask(:event_of_action, attempt: attempt.id, action: action_id) {
        @events.where(attempt_id: :$attempt, action_id: :$action).select(:seq).limit(1)
      }.any?
    end

    # @return [Array<String>] of acts after this number
    def action_ids_after(attempt, seq) =
      @events.where(attempt_id: attempt.id).where { self.seq > seq }.order(:seq).select_map(:action_id)

    # @return [Array<Nurv::Bench::Action>] acts after this number
    # @raise [Damaged]
    def actions_after(attempt, seq)
      @events
        .where(attempt_id: attempt.id)
        .where { self.seq > seq }
        .order(:seq)
        .select_map(:body)
        .map { |body| Nurv::Bench::Action.parse(body) }
    rescue Nurv::RefusedAction, *Nurv::Bench::Snapshot::UNREADABLE => error
      warn "log of attempt #{attempt.id}: #{error.class}"
      raise Damaged, "the log of attempt #{attempt.id} is damaged"
    end

    def log(attempt) = Nurv::Bench::Log.new(actions_after(attempt, 0))

    # What the acts of an attempt met with, for whoever does them again: as long as it is not graded, and its acts were
    # done under the laws of the water that hold now.
    #
    # @return [Hash{Integer => Nurv::Bench::Met}] by the index of an act in the log
    def met(attempt)
      @events
        .where(attempt_id: attempt.id)
        .exclude(met: nil)
        .select_map(%i[seq met])
        .filter_map { |seq, text| Nurv::Bench::Snapshot.load_met(text)&.then { |met| [seq - 1, met] } }
        .to_h
    rescue *Nurv::Bench::Snapshot::UNREADABLE => error
      # Only ever a cache: the log says the same, and takes a moment longer.
      warn "met: #{error.class}; attempt #{attempt.id} is worked out from its log"
      {}
    end

    # It is graded: whoever wants to see it once more can work it out.
    def forget_met(attempt) = @events.where(attempt_id: attempt.id).exclude(met: nil).update(met: nil)

    # @return [Array(Integer, String, String, String), nil] number, text, progress and running water of the newest
    #   snapshot
    def snapshot(attempt) = @database[:snapshots].where(attempt_id: attempt.id).get(%i[seq body progress running])

    # More time, for a bench at work or one not begun.
    #
    # @return [Integer] how many got it
    def extend_time(attempts, minutes)
      @rows.where(id: attempts.map(&:id), status: [Status::ASSIGNED, Status::STARTED]).update(
        extra_ms: Sequel[:extra_ms] + minutes * 60_000
      )
    end

    def comment(attempt, text) = @rows.where(id: attempt.id).update(comment: text)

    # All of these, or none.
    #
    # @param ids [Array<Integer>] those that are graded
    # @return [Integer] how many
    def publish_all(exam, ids)
      make_public(@rows.where(exam_id: exam.id, id: ids))
    end

    # Those of an exam that were never begun: its owner was absent, or did not get so far.
    #
    # @return [Integer] how many
    def give_up(exam)
      rows = @rows.where(exam_id: exam.id)
      never_begun = [Status::ASSIGNED, Status::ABSENT, Status::UNBEGUN]
      came = rows.exclude(status: never_begun).select_map(:trainee_id)
      give_up = ->(some, to) { Status::ATTEMPT.move(some, from: Status::ASSIGNED, to: to) }
      give_up.call(rows.where(trainee_id: came), Status::UNBEGUN) +
        give_up.call(rows.exclude(trainee_id: came), Status::ABSENT)
    end

    def publish(attempt)
      make_public(@rows.where(id: attempt.id))
    end

    # What was published a moment ago goes back to review.
    #
    # @param ids [Array<Integer>]
    # @return [Integer] how many
    def take_back(ids)
      fresh = @rows.where(id: ids).where { published_at >= Clock.now - TAKE_BACK_S }
      Status::ATTEMPT.move(fresh, from: Status::PUBLISHED, to: Status::SUBMITTED, published_at: nil)
    end

    # Published so short a time ago that it can be taken back.
    def to_take_back(exam) =
      with_names(
        @rows.where(exam_id: exam.id, status: Status::PUBLISHED).where { published_at >= Clock.now - TAKE_BACK_S }
      )

    private

    # @return [Integer] 0 if another act came first
    def moved_on(attempt, action, known_seq, seen)
      # Handing in is done once; a bench is worked all the time.
      if seen.nil? || action.kind == :submit
        over = (action.kind == :submit) ? {status: Status::SUBMITTED, submitted_at: Clock.now} : {}
        return @rows.where(id: attempt.id, last_seq: known_seq).update(last_seq: known_seq + 1, **over, **seen.to_h)
      end

      change(:move_on, id: attempt.id, known: known_seq, seq: known_seq + 1, **seen) do
        @rows
          .where(id: :$id, last_seq: :$known)
          .prepare(:update, :move_on, last_seq: :$seq, seen_wall_ms: :$seen_wall_ms, needle_psid: :$needle_psid)
      end
    end

    def insert(attempt, action, seq, met)
      row = {
        attempt_id: attempt.id,
        seq: seq,
        action_id: action.id,
        at_ms: action.at_ms,
        body: action.to_json,
        met: met,
        recorded_at: Clock.now
      }
      change(:write_event, **row) { @events.prepare(:insert, :write_event, row.to_h { |name, _| [name, :"$#{name}"] }) }
    end

    def keep_snapshot(**row)
      change(:write_snapshot, **row) do
        @database[:snapshots]
          .insert_conflict(target: :attempt_id, update: SNAPSHOT)
          .prepare(:insert, :write_snapshot, attempt_id: :$attempt_id, **SNAPSHOT)
      end
    end

    def write_seen(seen, ran_on)
      # One alone is written whole anyhow.
      return write_rows(seen, ran_on) if seen.size + ran_on.size == 1

      @database.transaction { write_rows(seen, ran_on) }
    rescue Sequel::DatabaseError => error
      warn "seen: #{error.message.lines.first}"
    end

    def write_rows(seen, ran_on)
      seen.each do |id, (wall_ms, psid)|
        change(:write_seen, id: id, wall_ms: wall_ms, needle_psid: psid) do
          @rows.where(id: :$id).prepare(:update, :write_seen, seen_wall_ms: :$wall_ms, needle_psid: :$needle_psid)
        end
      end
      ran_on.each do |id, (seq, running)|
        change(:write_ran_on, id: id, seq: seq, running: running) do
          @database[:snapshots].where(attempt_id: :$id, seq: :$seq).prepare(:update, :write_ran_on, running: :$running)
        end
      end
    end

    def row_for(station, trainee, instructor, mode:, seed:, policy:, course:)
      {
        station_id: station.id,
        station_body: station.body,
        station_title: station.title,
        instructor_id: instructor.id,
        trainee_id: trainee.id,
        mode: mode,
        seed: seed,
        policy_body: policy&.to_json,
        class_id: course&.id,
        catalog: @stores.catalogs.keep(station.catalog),
        created_at: Clock.now
      }
    end

    # @param changed [Hash] what is not as it was
    def once_more(attempt, **changed)
      row =
        @rows.first(id: attempt.id).slice(
          :station_id,
          :station_body,
          :station_title,
          :instructor_id,
          :trainee_id,
          :mode,
          :seed,
          :policy,
          :policy_body,
          :class_id,
          :catalog
        )
      find(@rows.insert(**row, created_at: Clock.now, **changed))
    end

    def waiting(user) = @rows.where(instructor_id: user.id, status: Status::SUBMITTED).exclude(mode: "practice")

    # Another bench takes its place.
    def leave(attempt) =
      Status::ATTEMPT.move(@rows.where(id: attempt.id), from: Status::STARTED, to: Status::LEFT)

    def make_public(rows) =
      Status::ATTEMPT.move(rows, from: Status::SUBMITTED, to: Status::PUBLISHED, published_at: Clock.now)

    def wrap(row) = row && Attempt.new(row, @stores.catalogs)

    # @return [Array<Attempt>] those that can be read
    def with_names(rows, progress: false) = named(rows, progress: progress).select(&:sound?)

    def named(rows, progress: false)
      people = @database[:users].where(id: rows.select(:trainee_id)).select_hash(:id, :name)
      notes =
        progress ? @database[:snapshots].where(attempt_id: rows.select(:id)).select_hash(:attempt_id, :progress) : {}
      rows
        .map do |row|
          Attempt.new(
            row,
            @stores.catalogs,
            trainee_name: people[row[:trainee_id]],
            progress: notes[row[:id]]
          )
        end
    end
  end
end
