# frozen_string_literal: true

require "digest"

module Store
  # Wrong tries at a PIN, a password or a code: each makes the next wait longer, for whoever tries. Nobody is locked
  # out.
  class Tries < Drawer
    # Tries that cost nothing, and the longest wait after more of them.
    Rule = Struct.new(:free, :most_s)
    RULES = {
      # One name from one address: a person who has forgotten, or somebody guessing.
      here: Rule.new(5, 300),
      # One name from anywhere: short, since its owner waits too; a device that its owner has used before does not.
      name: Rule.new(12, 20),
      # Anything from one address: a whole class may sit behind it.
      address: Rule.new(60, 60),
      # Codes of classes from one address, by links: a class may come by one at once.
      code: Rule.new(60, 30),
      # New people in one class from one address: a roomful comes at once, a list of invented names takes an hour.
      newcomer: Rule.new(20, 10)
    }.freeze
    FORGOTTEN_MS = 3_600_000

    def initialize(stores)
      super
      @rows = @database[:tries]
    end

    # Counts a try, unless it comes too soon. Counted before it is known to be wrong, so that many at once do not slip
    # through.
    #
    # @param keys [Hash{Symbol => String}] by rule
    # @return [Integer] seconds to wait before the next is looked at; 0 if this one may be
    def try(keys, wall_ms: Clock.wall_ms)
      @database.transaction do
        @rows.where { last_ms < wall_ms - FORGOTTEN_MS }.delete
        rows = @rows.where(key: keys.map { |rule, text| key(rule, text) }).as_hash(:key)
        wait = keys.map { |rule, text| left_ms(RULES.fetch(rule), rows[key(rule, text)], wall_ms) }.max.to_i
        next (wait / 1000.0).ceil if wait.positive?

        keys.each { |rule, text| count(key(rule, text), wall_ms) }
        0
      end
    end

    # It was right: that name is free of what was tried before from here, and the address of this one.
    def right(keys)
      @rows.where(key: keys.slice(:here).map { |rule, text| key(rule, text) }).delete
      @rows.where(key: keys.slice(:address, :name, :code).map { |rule, text| key(rule, text) }).update(
        count: Sequel.function(:max, Sequel[:count] - 1, 0)
      )
    end

    private

    def key(rule, text) = "#{rule}/#{Digest::SHA256.hexdigest(text.to_s)[0, 32]}"

    def left_ms(rule, row, wall_ms)
      over = row ? row[:count] - rule.free : -1
      over.negative? ? 0 : row[:last_ms] + [2**[over, 16].min, rule.most_s].min * 1000 - wall_ms
    end

    def count(key, wall_ms)
      @rows.insert_conflict(target: :key, update: {count: Sequel[:tries][:count] + 1, last_ms: wall_ms}).insert(
        key: key,
        count: 1,
        last_ms: wall_ms
      )
    end
  end
end
