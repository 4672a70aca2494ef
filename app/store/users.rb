# frozen_string_literal: true

require "bcrypt"
require "securerandom"

module Store
  # People who sign in.
  class Users
    User = Struct.new(:id, :role, :name, :login, :admin, :claimed, :units, :time_zone, keyword_init: true) do
      def instructor? = role == "instructor"

      def trainee? = role == "trainee"
    end
    # Burnt on a wrong login, so that a missing name takes as long as a wrong password.
    DUMMY = BCrypt::Password.create("nobody", cost: 10).to_s

    def initialize(database = DB)
      @rows = database[:users]
    end

    def self.wrap(row) = row && User.new(**row.slice(*User.members))

    def find(id) = wrap(@rows.first(id: id))

    def any? = @rows.any?

    def taken?(login) = @rows.where(login: login.to_s.strip.downcase).any?

    # @return [User, nil]
    def authenticate(login, password)
      row = @rows.first(login: login.to_s.strip.downcase)
      good = BCrypt::Password.new(row ? row[:password_digest] : DUMMY).is_password?(password.to_s)
      wrap(row) if row && good
    end

    def create(role:, name:, login:, password:, admin: false)
      find(@rows.insert(role: role, name: name, login: login.downcase, password_digest: digest(password), admin: admin, created_at: Time.now))
    end

    # A trainee from a roster; without a PIN they choose one when they join.
    def create_trainee(name, code, pin = nil)
      login = free_login("#{name} #{code}")
      user = create(role: "trainee", name: name, login: login, password: pin || SecureRandom.hex(16))
      @rows.where(id: user.id).update(claimed: !pin.nil?)
      find(user.id)
    end

    # @return [Boolean] the PIN is this person's; a first PIN is taken as theirs
    def pin?(user, pin)
      return BCrypt::Password.new(@rows.where(id: user.id).get(:password_digest)).is_password?(pin.to_s) if user.claimed

      change_password(user, pin)
      true
    end

    def change_password(user, password) = @rows.where(id: user.id).update(password_digest: digest(password), claimed: true)

    # Lets a trainee choose a PIN anew.
    def forget_pin(user) = @rows.where(id: user.id).update(password_digest: digest(SecureRandom.hex(16)), claimed: false)

    def prefer(user, units:, time_zone:) = @rows.where(id: user.id).update(units: units, time_zone: time_zone)

    def instructors = @rows.where(role: "instructor").order(:name).map { |row| wrap(row) }

    def trainees = @rows.where(role: "trainee").order(:name).map { |row| wrap(row) }

    private

    def digest(password) = BCrypt::Password.create(password, cost: (ENV["APP_ENV"] == "test") ? 4 : 11).to_s

    def free_login(text)
      base = text.downcase.gsub(/[^a-z0-9]+/, "-").delete_suffix("-")
      (1..).lazy.map { |number| (number == 1) ? base : "#{base}-#{number}" }.find { |login| !taken?(login) }
    end

    def wrap(row) = self.class.wrap(row)
  end
end
