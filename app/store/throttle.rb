# frozen_string_literal: true

module Store
  # Counters that run out, shared by every worker; what rack-attack asks of a cache store.
  class Throttle
    def initialize(database = DB)
      @rows = database[:throttles]
    end

    def increment(key, amount, options = {})
      now = Time.now.to_i
      expires = now + options.fetch(:expires_in, 60).to_i
      @rows.where { expires_at < now }.delete
      @rows.returning(:count).insert_conflict(target: :key, update: {count: Sequel[:throttles][:count] + amount})
        .insert(key: key, count: amount, expires_at: expires).first[:count]
    end

    def read(key) = @rows.where(key: key).where { expires_at >= Time.now.to_i }.get(:count)

    def write(key, value, options = {})
      @rows.insert_conflict(:replace).insert(key: key, count: value.to_i, expires_at: Time.now.to_i + options.fetch(:expires_in, 60).to_i)
    end

    def delete(key) = @rows.where(key: key).delete
  end
end
