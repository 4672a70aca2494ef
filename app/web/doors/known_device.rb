# frozen_string_literal: true

require "openssl"

module Web
  # Whose devices these are: ids of those who signed in here before, signed by the server. Whoever is known here does
  # not wait for what strangers try under their name.
  class KnownDevice
    COOKIE = "nurv.device"
    LIFE_S = 180 * 24 * 3600
    # A tablet goes through many hands.
    MOST = 40

    # @param text [String, nil] as the browser kept it; what was not signed here counts as nothing
    def self.read(text)
      ids, seal = text.to_s[0, 1_000].split("--", 2)
      good = seal && Rack::Utils.secure_compare(seal(ids), seal)
      new(good ? ids.split(".").map(&:to_i) : [])
    end

    def self.seal(ids) = OpenSSL::HMAC.hexdigest("SHA256", "device/#{SETTINGS.session_secret}", ids)[0, 40]

    # @param ids [Array<Integer>] of people, the latest first
    def initialize(ids)
      @ids = ids
    end

    def with(user) = self.class.new(([user.id] + @ids).uniq.first(MOST))

    def knows?(user) = !user.nil? && @ids.include?(user.id)

    def to_s = @ids.join(".").then { |ids| "#{ids}--#{self.class.seal(ids)}" }
  end
end
