# frozen_string_literal: true

require "securerandom"

module Store
  # Classes and who is in them. An instructor sees only their own.
  class Classes < Drawer
    Course =
      Struct.new(
        :id, :owner_id, :name, :join_code, :created_at, :archived_at, :practice, :newcomers, :size, keyword_init: true
      ) do
        def archived? = !archived_at.nil?

        # @return [Array<Symbol>] procedures by which its trainees may practise on their own
        def practises = practice ? JSON.parse(practice).map(&:to_sym) : []
      end
    MOST = 400
    # Who comes by the code, and is on no roster.
    NEWCOMERS = {
      "begun" => "come in until the class has begun, then wait for me",
      "ask" => "wait for me",
      "open" => "come in at once"
    }.freeze
    MOST_WAITING = 60
    # Letters and digits that cannot be taken for one another when they are read aloud.
    CODE = "ABCDEFGHJKMNPQRSTUVWXYZ23456789".chars.freeze

    def initialize(stores)
      super
      @rows = @database[:classes]
      @members = @database[:members]
      @waiting = @database[:newcomers]
    end

    def of(owner)
      sizes = @members.group_and_count(:class_id).as_hash(:class_id, :count)
      @rows
        .where(owner_id: owner.id)
        .order(Sequel.asc(:archived_at, nulls: :first), Sequel.desc(:id))
        .map { |row| wrap(row, sizes[row[:id]] || 0) }
    end

    # @return [Course, nil] only if this owner's
    def find(owner, id) = wrap(@rows.first(owner_id: owner.id, id: id))

    def with_code(code) =
      wrap(@rows.first(join_code: code.to_s.upcase.gsub(/[^A-Z0-9]/, "")[0, 12], archived_at: nil))

    def create(owner, name)
      id = @rows.insert(owner_id: owner.id, name: name, join_code: fresh_code, created_at: Clock.now)
      find(owner, id)
    end

    def archive(course, archived) = @rows.where(id: course.id).update(archived_at: archived ? Clock.now : nil)

    # @param procedures [Array<Symbol, String>] by which its trainees may practise on their own; none: not at all
    def let_practise(course, procedures) =
      @rows.where(id: course.id).update(practice: procedures.empty? ? nil : JSON.generate(procedures))

    # @param trainee [Users::User]
    # @return [Array<Course>] theirs in which one may practise on one's own, the newest first
    def practised_by(trainee) =
      @rows
        .where(id: @members.where(user_id: trainee.id).select(:class_id), archived_at: nil)
        .exclude(practice: nil)
        .reverse(:id)
        .map { |row| wrap(row) }

    # @return [Array<Users::User>] by name
    def members(course) = members_of(course.id)

    def members_of(class_id)
      @database[:users]
        .where(id: @members.where(class_id: class_id).select(:user_id))
        .order(:name)
        .map { |row| Users.wrap(row) }
    end

    # Everybody whom this instructor teaches in a class that is not archived.
    def trainees_of(owner)
      courses = @rows.where(owner_id: owner.id, archived_at: nil).select(:id)
      @database[:users]
        .where(id: @members.where(class_id: courses).select(:user_id))
        .order(:name)
        .map { |row| Users.wrap(row) }
    end

    # @param trainee [Users::User]
    # @return [Users::User, nil] whose class they were taken into last
    def teacher_of(trainee)
      mine = @members.where(user_id: trainee.id).select(:class_id)
      owner = @rows.where(id: mine).order(Sequel.desc(:id)).get(:owner_id)
      owner && @stores.users.find(owner)
    end

    def add(course, user) = @members.insert_conflict.insert(class_id: course.id, user_id: user.id)

    # Takes a trainee off the roster. Benches they have not begun are taken back; those at which they work are handed
    # in by the caller, since that may take a while.
    def remove(course, user_id)
      @database.transaction do
        @members.where(class_id: course.id, user_id: user_id).delete
        forget_unbegun(course, user_id)
      end
    end

    # --- who comes by the code

    # @return [Boolean] whoever is new waits for the instructor
    def waits?(course) = course.newcomers == "ask" || (course.newcomers == "begun" && begun?(course))

    # @return [Boolean] somebody has worked at a bench of this class
    def begun?(course) =
      @database[:attempts].where(class_id: course.id).exclude(status: Status::ASSIGNED).any?

    def receive(course, newcomers) = @rows.where(id: course.id).update(newcomers: newcomers)

    # @return [Array<Users::User>] who waits to be let in, by name
    def newcomers(course)
      waiting = @waiting.where(class_id: course.id).select(:user_id)
      @database[:users].where(id: waiting).order(:name).map { |row| Users.wrap(row) }
    end

    def newcomer_named(course, name) =
      Names.plain(name).then { |wanted| newcomers(course).find { |user| Names.plain(user.name) == wanted } }

    def wait_for(course, user) =
      @waiting.insert_conflict.insert(class_id: course.id, user_id: user.id, came_at: Clock.now)

    # @return [Array<Course>] that this person waits to be let into
    def waited_for_by(user) =
      @rows.where(id: @waiting.where(user_id: user.id).select(:class_id)).map { |row| wrap(row) }

    # @return [Boolean] so many wait that nobody else is taken
    def crowded?(course) = @waiting.where(class_id: course.id).count >= MOST_WAITING

    def let_in(course, user)
      @database.transaction do
        next unless @waiting.where(class_id: course.id, user_id: user.id).delete.positive?

        add(course, user)
      end
    end

    # Who was made up, or is of another class, leaves nothing behind.
    def turn_away(course, user)
      @database.transaction do
        next unless @waiting.where(class_id: course.id, user_id: user.id).delete.positive?
        next if @members.where(user_id: user.id).any? || @waiting.where(user_id: user.id).any?

        @stores.sessions.end_all(user)
        @database[:users].where(id: user.id).delete
      end
    end

    # A code is known to a whole room: it lets nobody fill the roster without end.
    def full?(course) = @members.where(class_id: course.id).count >= MOST

    def member_named(course, name) =
      Names.plain(name).then { |wanted| members(course).find { |user| Names.plain(user.name) == wanted } }

    # Takes a whole roster or nothing. PINs are drawn where none is given, and hashed before the database is held.
    #
    # @param entries [Array<Hash>] name, and a PIN or nil
    # @return [Integer] how many were new
    def enrol(course, entries)
      ready =
        entries.map do |entry|
          pin = entry[:pin] || Users.draw_pin
          {name: entry[:name], pin: pin, digest: Users.digest(pin)}
        end
      @database.transaction do
        there = members(course).map { |member| Names.plain(member.name) }
        ready.count do |entry|
          next false if there.include?(Names.plain(entry[:name]))

          there << Names.plain(entry[:name])
          add(
            course,
            @stores.users.create_trainee(
              entry[:name],
              course.join_code,
              digest: entry[:digest],
              card_pin: entry[:pin]
            )
          )
          true
        end
      end
    end

    # One person who stands on the roster twice: what the other did becomes theirs, and the other name is gone.
    #
    # @param user [Users::User] who stays
    # @param other [Users::User] a trainee of the same class
    def merge(user, other)
      @database.transaction do
        @database[:attempts].where(trainee_id: other.id).update(trainee_id: user.id)
        @database[:members]
          .where(user_id: other.id)
          .select_map(:class_id)
          .each { |id| @members.insert_conflict.insert(class_id: id, user_id: user.id) }
        @members.where(user_id: other.id).delete
        %i[overrides audits drill_tries drill_sets predictions].each do |table|
          @database[table].where(user_id: other.id).update(user_id: user.id)
        end
        @stores.boards.merge(user, other)
        @database[:users].where(id: other.id).delete
      end
    end

    # To another class of the same owner, with what they did in this one outside its exams.
    def move(course, user, target)
      @database.transaction do
        @members.where(class_id: course.id, user_id: user.id).delete
        add(target, user)
        @database[:attempts].where(class_id: course.id, trainee_id: user.id, exam_id: nil).update(class_id: target.id)
        forget_unbegun(course, user.id)
      end
    end

    # The class that both an instructor and a trainee belong to, if there is one.
    def shared(owner, trainee) =
      wrap(
        @rows.where(owner_id: owner.id, id: @members.where(user_id: trainee.id).select(:class_id)).reverse(:id).first
      )

    private

    # Benches that were given here and not begun are nobody's any more.
    def forget_unbegun(course, user_id)
      rows = @database[:attempts].where(class_id: course.id, trainee_id: user_id)
      Status::ATTEMPT.move(rows, from: Status::ASSIGNED, to: Status::LEFT)
    end

    def fresh_code
      loop do
        code = Array.new(6) { CODE[SecureRandom.random_number(CODE.size)] }.join
        return code unless @rows.where(join_code: code).any?
      end
    end

    def wrap(row, size = nil) =
      row &&
        Course.new(
          **row.slice(:id, :owner_id, :name, :join_code, :created_at, :archived_at, :practice, :newcomers), size: size
        )
  end
end
