# frozen_string_literal: true

require "digest"
require "securerandom"

module Store
  # Who is signed in where. The browser holds a token, the server what it stands for, so that it can be ended from
  # here.
  class Sessions < Drawer
    HOUR_MS = 3_600_000
    # Since it was last used: a trainee's device remembers them until they sign out, an instructor's for a working
    # day.
    LIFE_MS = {"trainee" => 30 * 24 * HOUR_MS, "instructor" => 12 * HOUR_MS}.freeze
    SEEN_EVERY_MS = HOUR_MS / 6

    def initialize(stores)
      super
      @rows = @database[:sessions]
      whose = Users::User.members.map { |name| Sequel[:users][name] }
      @people = @rows.join(:users, id: :user_id).select(:digest, :seen_ms, *whose)
    end

    # @return [String] the token for the browser
    def begin(user, wall_ms: Clock.wall_ms)
      @rows.where { seen_ms < wall_ms - LIFE_MS.values.max }.delete
      SecureRandom
        .urlsafe_base64(24)
        .tap { |token| @rows.insert(digest: digest(token), user_id: user.id, made_ms: wall_ms, seen_ms: wall_ms) }
    end

    # @return [Users::User, nil] whose token this is, unless it has run out
    def user_of(token, wall_ms: Clock.wall_ms)
      return unless token

      row = ask(:session_of_digest, digest: digest(token)) { @people.where(digest: :$digest).limit(1) }.first or return
      user = Users.wrap(row)
      user if alive?(row, user, wall_ms)
    end

    # @param row [Hash] digest and seen_ms of a session
    # @param user [Users::User] whose it is
    # @return [Boolean] it has not run out, and will not for a while
    def alive?(row, user, wall_ms)
      return false unless wall_ms - row[:seen_ms] < LIFE_MS.fetch(user.role)

      saw(row, wall_ms) if wall_ms - row[:seen_ms] > SEEN_EVERY_MS
      true
    end

    def end(token) = token && @rows.where(digest: digest(token)).delete

    # Everywhere, but for the one at hand.
    def end_all(user, except: nil)
      rows = @rows.where(user_id: user.id)
      rows = rows.exclude(digest: digest(except)) if except
      rows.delete
    end

    # @return [String] what is kept of a token
    def self.digest(token) = Digest::SHA256.hexdigest(token.to_s)

    private

    def digest(token) = self.class.digest(token)

    # Book-keeping: looking at a page must not fail because it cannot be written.
    def saw(row, wall_ms)
      @rows.where(digest: row[:digest]).update(seen_ms: wall_ms)
    rescue Sequel::DatabaseError => error
      warn "session: #{error.message}"
    end
  end
end
