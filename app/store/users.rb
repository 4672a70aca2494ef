# frozen_string_literal: true

require "bcrypt"
require "securerandom"

module Store
  # People who sign in.
  class Users < Drawer
    User =
      Struct.new(:id, :role, :name, :login, :admin, :claimed, :units, :time_zone, :card_pin, keyword_init: true) do
        def instructor? = role == "instructor"

        def trainee? = role == "trainee"
      end
    COST = (ENV["APP_ENV"] == "test") ? 4 : 11
    # Compared with where there is no such name, so that it takes as long as a wrong password.
    DUMMY = BCrypt::Password.create("nobody", cost: COST).to_s
    # Of one name in several classes so many PINs are compared, and as many where there is no such name.
    NAMESAKES = 3

    def initialize(stores)
      super
      @rows = @database[:users]
    end

    def self.wrap(row) = row && User.new(**row.slice(*User.members))

    def find(id) = wrap(@rows.first(id: id))

    def with_login(login) = wrap(@rows.first(login: Names.plain(login)))

    def any? = @rows.any?

    def taken?(login) = @rows.where(login: Names.plain(login)).any?

    # @return [User, nil]
    def authenticate(login, password)
      row = @rows.first(login: Names.plain(login))
      wrap(row) if matches?(row, password)
    end

    # A trainee by the name on the roster, whatever the class.
    #
    # @return [User, nil] the one whose PIN this is
    def trainee_by(name, pin, courses: nil)
      wanted = Names.plain(name)
      rows = wanted.empty? ? [] : @rows.where(role: "trainee", id: member_ids(courses)).select(:id, :name).all
      ids = rows.select { |row| Names.plain(row[:name]) == wanted }.map { |row| row[:id] }.first(NAMESAKES)
      found = @rows.where(id: ids).order(Sequel.desc(:id)).all
      right = (found + [nil] * NAMESAKES).first(NAMESAKES).select { |row| matches?(row, pin) }
      wrap(right.first)
    end

    def create(role:, name:, login:, password:, admin: false, card_pin: nil)
      add(
        role: role,
        name: name,
        login: Names.plain(login),
        digest: self.class.digest(password),
        admin: admin,
        card_pin: card_pin
      )
    end

    # The first account of all, whoever comes at the same time.
    #
    # @return [User, nil] nil if somebody was there before
    def create_first(name:, login:, password:)
      digest = self.class.digest(password)
      @database.transaction do
        add(role: "instructor", name: name, login: Names.plain(login), digest: digest, admin: true) unless any?
      end
    end

    # A PIN that is drawn, for a card.
    def self.draw_pin = format("%05d", SecureRandom.random_number(100_000))

    # @return [String] as it is kept; worked out beforehand, since it takes long and the database waits for nobody
    def self.digest(password) = BCrypt::Password.create(password, cost: COST).to_s

    # A trainee of a roster, with the PIN on the card given out to them; or one who came with the code and chose a
    # PIN.
    #
    # @param digest [String] of the PIN
    # @param card_pin [String, nil] what stands on the card
    def create_trainee(name, code, digest:, card_pin: nil)
      add(role: "trainee", name: name, login: free_login("#{name} #{code}"), digest: digest, card_pin: card_pin)
    end

    # @return [Boolean] the PIN is this person's
    def pin?(user, pin) = matches?(@rows.where(id: user.id).first, pin)

    # A new PIN for a card. The old one and every session opened with it are gone.
    #
    # @return [String]
    def give_pin(user)
      pin = self.class.draw_pin
      digest = self.class.digest(pin)
      @database.transaction do
        @rows.where(id: user.id).update(password_digest: digest, card_pin: pin, claimed: true)
        @stores.sessions.end_all(user)
      end
      pin
    end

    def rename(user, name) = @rows.where(id: user.id).update(name: name)

    # Every other session of this person ends with the old password.
    #
    # @param keep [String, nil] token of the session in which it is changed
    def change_password(user, password, keep: nil)
      digest = self.class.digest(password)
      @database.transaction do
        @rows.where(id: user.id).update(password_digest: digest, card_pin: nil, claimed: true)
        @stores.sessions.end_all(user, except: keep)
      end
    end

    def prefer(user, units:, time_zone:) = @rows.where(id: user.id).update(units: units, time_zone: time_zone)

    def instructors = @rows.where(role: "instructor").order(:name).map { |row| wrap(row) }

    def trainees = @rows.where(role: "trainee").order(:name).map { |row| wrap(row) }

    private

    # @param digest [String] worked out beforehand, since it takes long and the database waits for nobody
    def add(role:, name:, login:, digest:, **rest)
      find(@rows.insert(role: role, name: name, login: login, password_digest: digest, created_at: Clock.now, **rest))
    end

    # Takes as long for nobody as for somebody.
    def matches?(row, password)
      BCrypt::Password.new(row ? row[:password_digest] : DUMMY).is_password?(password.to_s) && !row.nil? &&
        row[:claimed]
    end

    def member_ids(courses)
      courses ||= @database[:classes].where(archived_at: nil).select(:id)
      @database[:members].where(class_id: courses).select(:user_id)
    end

    def free_login(text)
      base = text.downcase.gsub(/[^a-z0-9]+/, "-").delete_suffix("-")
      (1..).lazy.map { |number| (number == 1) ? base : "#{base}-#{number}" }.find { |login| !taken?(login) }
    end

    def wrap(row) = self.class.wrap(row)
  end
end
