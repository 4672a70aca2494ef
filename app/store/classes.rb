# frozen_string_literal: true

require "securerandom"

module Store
  # Classes and who is in them. An instructor sees only their own.
  class Classes
    Room = Struct.new(:id, :owner_id, :name, :join_code, :created_at, :archived_at, :size, keyword_init: true) do
      def archived? = !archived_at.nil?
    end
    # Letters and digits that cannot be taken for one another when they are read aloud.
    CODE = "ABCDEFGHJKMNPQRSTUVWXYZ23456789".chars.freeze

    def initialize(database = DB)
      @database = database
      @rows = database[:classes]
      @members = database[:members]
    end

    def of(owner)
      sizes = @members.group_and_count(:class_id).as_hash(:class_id, :count)
      @rows.where(owner_id: owner.id).order(Sequel.asc(:archived_at, nulls: :first), Sequel.desc(:id)).map { |row| wrap(row, sizes[row[:id]] || 0) }
    end

    # @return [Room, nil] only if this owner's
    def find(owner, id) = wrap(@rows.first(owner_id: owner.id, id: id))

    def with_code(code) = wrap(@rows.first(join_code: code.to_s.strip.upcase, archived_at: nil))

    def create(owner, name)
      id = @rows.insert(owner_id: owner.id, name: name, join_code: fresh_code, created_at: Time.now)
      find(owner, id)
    end

    def archive(room, archived) = @rows.where(id: room.id).update(archived_at: archived ? Time.now : nil)

    # @return [Array<Users::User>] by name
    def members(room)
      @database[:users].where(id: @members.where(class_id: room.id).select(:user_id)).order(:name).map { |row| Users.wrap(row) }
    end

    # Everybody whom this instructor teaches in a class that is not archived.
    def trainees_of(owner)
      rooms = @rows.where(owner_id: owner.id, archived_at: nil).select(:id)
      @database[:users].where(id: @members.where(class_id: rooms).select(:user_id)).order(:name).map { |row| Users.wrap(row) }
    end

    def add(room, user) = @members.insert_conflict.insert(class_id: room.id, user_id: user.id)

    def remove(room, user_id) = @members.where(class_id: room.id, user_id: user_id).delete

    def member_named(room, name) = members(room).find { |user| user.name.casecmp?(name.to_s.strip.squeeze(" ")) }

    # Takes a whole roster or nothing.
    #
    # @param entries [Array<Hash>] name, and a PIN or nil
    # @return [Integer] how many were new
    def enrol(room, entries)
      @database.transaction do
        there = members(room).map { |member| member.name.downcase }
        entries.count do |entry|
          next false if there.include?(entry[:name].downcase)

          there << entry[:name].downcase
          add(room, Users.new(@database).create_trainee(entry[:name], room.join_code, entry[:pin]))
          true
        end
      end
    end

    # The class that both an instructor and a trainee belong to, if there is one.
    def shared(owner, trainee) = wrap(@rows.where(owner_id: owner.id, id: @members.where(user_id: trainee.id).select(:class_id)).reverse(:id).first)

    private

    def fresh_code
      loop do
        code = Array.new(6) { CODE[SecureRandom.random_number(CODE.size)] }.join
        return code unless @rows.where(join_code: code).any?
      end
    end

    def wrap(row, size = nil) = row && Room.new(**row.slice(:id, :owner_id, :name, :join_code, :created_at, :archived_at), size: size)
  end
end
