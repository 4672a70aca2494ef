# frozen_string_literal: true

module Store
  # Exams: stations with a policy for a class, and a bench of their own for everybody in it once it is open.
  class Exams < Drawer
    Exam =
      Struct.new(
        :id,
        :class_id,
        :owner_id,
        :title,
        :status,
        :seed,
        :policy_body,
        :station_list,
        :shuffled,
        :created_at,
        :opened_at,
        :closed_at,
        :opens_at,
        :catalog,
        keyword_init: true
      ) do
        def policy = Nurv::Grading::Policy.parse(policy_body)

        def draft? = status == Status::DRAFT

        def open? = [Status::OPEN, Status::PAUSED].include?(status)

        def closed? = status == Status::CLOSED

        def paused? = status == Status::PAUSED

        # @return [Array<Array<Hash>>] places in order; each a pool of one station or more, of which one is drawn
        def places = station_list.chunk_while { |one, other| one[:pool] && one[:pool] == other[:pool] }.to_a
      end

    def initialize(stores)
      super
      @rows = @database[:exams]
      @attempts = @database[:attempts]
    end

    # @return [Exam, nil] only if this owner's
    def find(owner, id) = wrap(@rows.first(owner_id: owner.id, id: id))

    def of_attempt(attempt) = wrap(@rows.first(id: attempt.exam_id))

    def of_class(course) = @rows.where(class_id: course.id).reverse(:id).map { |row| wrap(row) }

    def of(owner) = @rows.where(owner_id: owner.id).reverse(:id).map { |row| wrap(row) }

    # Drafts whose time to open has come.
    def due =
      @rows.where(status: Status::DRAFT).exclude(opens_at: nil).where { opens_at <= Clock.now }.map { |row| wrap(row) }

    # @return [Hash{Integer => String}]
    def titles(ids) = @rows.where(id: ids.uniq).select_hash(:id, :title)

    # @param stations [Array<Hash>] title, body, pool
    # @param opens_at [Time, nil] when it opens by itself
    def create(owner, course, title:, policy:, stations:, shuffled:, seed:, opens_at: nil)
      id =
        @rows.insert(
          class_id: course.id,
          owner_id: owner.id,
          title: title,
          seed: seed,
          policy: policy.to_json,
          stations: JSON.generate(stations),
          shuffled: shuffled,
          opens_at: opens_at,
          catalog: keep_catalog(owner),
          created_at: Clock.now
        )
      find(owner, id)
    end

    def change_draft(exam, title:, policy:, stations:, shuffled:, seed:, opens_at:)
      @rows.where(id: exam.id, status: Status::DRAFT).update(
        title: title,
        seed: seed,
        policy: policy.to_json,
        stations: JSON.generate(stations),
        shuffled: shuffled,
        opens_at: opens_at,
        catalog: keep_catalog(@stores.users.find(exam.owner_id))
      )
    end

    # The same exam as a new draft.
    #
    # @return [Exam]
    def copy(exam, seed)
      id =
        @rows.insert(
          class_id: exam.class_id,
          owner_id: exam.owner_id,
          title: "#{exam.title} (copy)"[0, 80],
          seed: seed,
          policy: exam.policy_body,
          stations: JSON.generate(exam.station_list),
          shuffled: exam.shuffled,
          catalog: exam.catalog,
          created_at: Clock.now
        )
      wrap(@rows.first(id: id))
    end

    def delete_draft(exam) = @rows.where(id: exam.id, status: Status::DRAFT).delete

    # Gives everybody in the class a variant of their own at every place. Opening again gives those who came later
    # theirs; a paused exam stays paused, a closed one closed.
    #
    # @return [Boolean] whether it is open now
    def open(exam, members)
      @database.transaction do
        next false if @rows.where(id: exam.id, status: Status::CLOSED).any?

        members.each_with_index { |trainee, index| give(exam, trainee, index) }
        move(exam, Status::DRAFT, Status::OPEN, opened_at: Clock.now)
        true
      end
    end

    # Stops every clock, or lets all run on.
    def pause(exam, wall_ms)
      @database.transaction do
        move(exam, Status::OPEN, Status::PAUSED)
        change_clocks(exam) { |clock| clock.pause(wall_ms) }
      end
    end

    def resume(exam, wall_ms)
      @database.transaction do
        change_clocks(exam) { |clock| clock.resume(wall_ms) }
        move(exam, Status::PAUSED, Status::OPEN)
      end
    end

    # Nothing more is done in it. What was never begun is given up.
    #
    # @return [Integer] how many benches were never begun
    def shut(exam)
      @database.transaction do
        move(exam, Status::OPEN, Status::CLOSED, closed_at: Clock.now)
        @stores.attempts.give_up(exam)
      end
    end

    def change_policy(exam, policy)
      @database.transaction do
        @rows.where(id: exam.id).update(policy: policy.to_json)
        @attempts.where(exam_id: exam.id).update(policy_body: policy.to_json)
      end
    end

    private

    def move(exam, from, to, **changes) =
      Status::EXAM.move(@rows.where(id: exam.id), from: from, to: to, **changes)

    def change_clocks(exam, &)
      @attempts
        .where(exam_id: exam.id, status: Status::STARTED)
        .select_map(:id)
        .each { |id| @stores.attempts.change_clock(id, &) }
    end

    def give(exam, trainee, index)
      order = exam.places.each_index.to_a
      order = order.rotate(index) if exam.shuffled
      order.each_with_index do |place, position|
        next if @attempts.where(exam_id: exam.id, trainee_id: trainee.id, position: position).any?

        seed =
          Nurv::Stations::Draw
            .new(exam.seed)
            .then { |draw| 1 + (draw.share("#{trainee.id}/#{place}") * 999_998).floor }
        pool = exam.places[place]
        station = pool[(Nurv::Stations::Draw.new(seed).share("pool") * pool.size).floor]
        @attempts.insert(
          exam_id: exam.id,
          class_id: exam.class_id,
          position: position,
          station_id: station[:station_id],
          station_body: station[:body],
          station_title: station[:title],
          instructor_id: exam.owner_id,
          trainee_id: trainee.id,
          mode: "exam",
          seed: seed,
          policy_body: exam.policy_body,
          catalog: exam.catalog,
          created_at: Clock.now
        )
      end
    end

    # An exam is held under its owner's facts as they are when it is set up.
    def keep_catalog(owner) = @stores.catalogs.keep(@stores.catalogs.of(owner))

    def wrap(row)
      return unless row

      Exam.new(
        **row.except(:policy, :stations),
        policy_body: row[:policy],
        station_list: JSON.parse(row[:stations], symbolize_names: true)
      )
    end
  end
end
