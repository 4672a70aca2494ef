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
        :problem,
        keyword_init: true
      ) do
        def policy = Nurv::Grading::Policy.parse(policy_body)

        def draft? = status == Status::DRAFT

        def open? = [Status::OPEN, Status::PAUSED].include?(status)

        def closed? = status == Status::CLOSED

        def paused? = status == Status::PAUSED

        # @return [Boolean] some station of it draws plate, pressure and springs for each trainee
        def varied? = station_list.any? { |item| item[:body].to_s.match?(/^varies: true$/) }

        # @return [Array<Array<Hash>>] places in order; each a pool of one station or more, of which one is drawn
        def places = station_list.chunk_while { |one, other| one[:pool] && one[:pool] == other[:pool] }.to_a
      end

    def initialize(stores)
      super
      @rows = @database[:exams]
      @attempts = @database[:attempts]
      @references = @database[:exam_stations]
    end

    # @return [Exam, nil] only if this owner's
    def find(owner, id) = wrap(@rows.first(owner_id: owner.id, id: id))

    def of_attempt(attempt) = wrap(@rows.first(id: attempt.exam_id))

    def of_class(course) = readable(@rows.where(class_id: course.id).reverse(:id))

    def of(owner) = readable(@rows.where(owner_id: owner.id).reverse(:id))

    # Drafts whose time to open has come.
    def due = readable(@rows.where(status: Status::DRAFT).exclude(opens_at: nil).where { opens_at <= Clock.now })

    # @return [Hash{Integer => String}]
    def titles(ids) = @rows.where(id: ids.uniq).select_hash(:id, :title)

    # @param stations [Array<Hash>] title, body, pool
    # @param opens_at [Time, nil] when it opens by itself
    def create(owner, course, title:, policy:, stations:, shuffled:, seed:, opens_at: nil)
      @database.transaction do
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
        refer(id, owner.id, stations)
        find(owner, id)
      end
    end

    def change_draft(exam, title:, policy:, stations:, shuffled:, seed:, opens_at:)
      @database.transaction do
        changed =
          @rows.where(id: exam.id, status: Status::DRAFT).update(
            title: title,
            seed: seed,
            policy: policy.to_json,
            stations: JSON.generate(stations),
            shuffled: shuffled,
            opens_at: opens_at,
            problem: nil,
            catalog: keep_catalog(@stores.users.find(exam.owner_id))
          )
        refer(exam.id, exam.owner_id, stations) if changed.positive?
      end
    end

    # Other variants of its stations: each trainee gets a plate, pressure and springs of their own.
    #
    # @return [Exam]
    def vary(exam)
      catalog = @stores.catalogs.fetch(exam.catalog)
      list = exam.station_list.map do |item|
        {**item, body: Attempt.station_of(item[:body], catalog).varied.to_yaml}
      end
      @rows.where(id: exam.id, status: Status::DRAFT).update(stations: JSON.generate(list))
      wrap(@rows.first(id: exam.id))
    end

    # @return [Array<String>] titles of stations that are the same bench for everybody
    def same_for_all(exam)
      catalog = @stores.catalogs.fetch(exam.catalog)
      exam.station_list.reject { |item| Attempt.station_of(item[:body], catalog).drawn? }.map { |item| item[:title] }
    end

    # @return [Hash{String => Integer}] how many of the class have had a station as practice, by its title
    def practised(exam)
      members = @database[:members].where(class_id: exam.class_id).select_map(:user_id)
      people = @stores.stations.practised_by(members)
      exam.station_list.select { |item| people[item[:station_id]] }.to_h do |item|
        [item[:title], people[item[:station_id]]]
      end
    end

    # The same exam as a new draft.
    #
    # @return [Exam]
    def copy(exam, seed)
      @database.transaction do
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
        refer(id, exam.owner_id, exam.station_list)
        wrap(@rows.first(id: id))
      end
    end

    def delete_draft(exam)
      @database.transaction do
        next 0 unless @rows.where(id: exam.id, status: Status::DRAFT).any?

        @references.where(exam_id: exam.id).delete
        @rows.where(id: exam.id).delete
      end
    end

    # Exams that are set up from a station.
    #
    # @return [Array<Exam>]
    def using(station_id) =
      readable(@rows.where(id: @references.where(station_id: station_id).select(:exam_id)).reverse(:id))

    # Why it could not be opened by the clock: its owner reads it, and it is not tried again by itself.
    def could_not_open(exam, sentence) =
      @rows.where(id: exam.id, status: Status::DRAFT).update(problem: sentence[0, 300], opens_at: nil)

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

    # One that cannot be read keeps no other from being shown or opened.
    def readable(rows) =
      rows.filter_map do |row|
        wrap(row)
      rescue *Nurv::Bench::Snapshot::UNREADABLE => error
        warn "exam #{row[:id]}: #{error.class}"
        nil
      end

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

    # Only stations of the owner's own are referred to: a file from elsewhere names others by their numbers there.
    def refer(exam_id, owner_id, stations)
      @references.where(exam_id: exam_id).delete
      own = @database[:stations].where(owner_id: owner_id, id: stations.filter_map { |item| item[:station_id] })
      own.select_map(:id).each { |id| @references.insert(exam_id: exam_id, station_id: id) }
    end

    # An exam is held under its owner's facts as they are when it is set up.
    def keep_catalog(owner) = @stores.catalogs.keep(@stores.catalogs.of(owner))

    def wrap(row)
      return unless row

      known = @references.where(exam_id: row[:id]).select_map(:station_id)
      list = JSON.parse(row[:stations], symbolize_names: true)
      Exam.new(
        **row.except(:policy, :stations),
        policy_body: row[:policy],
        station_list: list.map { |item| {**item, station_id: (item[:station_id] if known.include?(item[:station_id]))} }
      )
    end
  end
end
