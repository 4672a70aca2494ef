# frozen_string_literal: true

require "bcrypt"

module Store
  # People who sign in.
  class Users
    User = Struct.new(:id, :role, :name, :login, keyword_init: true) do
      def instructor? = role == "instructor"

      def trainee? = role == "trainee"
    end
    # Burnt on a wrong login, so that a missing name takes as long as a wrong password.
    DUMMY = BCrypt::Password.create("nobody", cost: 10).to_s

    def initialize(database = DB)
      @rows = database[:users]
    end

    def find(id) = wrap(@rows.first(id: id))

    # @return [User, nil]
    def authenticate(login, password)
      row = @rows.first(login: login.to_s.strip.downcase)
      good = BCrypt::Password.new(row ? row[:password_digest] : DUMMY).is_password?(password.to_s)
      wrap(row) if row && good
    end

    def create(role:, name:, login:, password:)
      digest = BCrypt::Password.create(password, cost: (ENV["APP_ENV"] == "test") ? 4 : 11)
      find(@rows.insert(role: role, name: name, login: login.downcase, password_digest: digest, created_at: Time.now))
    end

    def trainees = @rows.where(role: "trainee").order(:name).map { |row| wrap(row) }

    private

    def wrap(row) = row && User.new(**row.slice(:id, :role, :name, :login))
  end
end
