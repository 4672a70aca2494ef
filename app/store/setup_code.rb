# frozen_string_literal: true

require "securerandom"

module Store
  # The code without which nobody makes the first account of an empty system: whoever started the server reads it
  # there.
  class SetupCode < Drawer
    SIGNS = "ABCDEFGHJKMNPQRSTUVWXYZ23456789".chars.freeze

    # @return [String, nil] like K7QX-2MPA; nil once there is somebody
    def current
      return if @stores.users.any?

      File.open(path, File::RDWR | File::CREAT, 0o600) do |file|
        file.flock(File::LOCK_EX)
        text = file.read
        next text unless text.empty?

        Array
          .new(2) { Array.new(4) { SIGNS[SecureRandom.random_number(SIGNS.size)] }.join }
          .join("-")
          .tap { |code| file.write(code) }
      end
    end

    # @param text [String] as typed
    def right?(text)
      code = current
      !code.nil? && Rack::Utils.secure_compare(plain(code), plain(text))
    end

    def forget = File.exist?(path) && File.delete(path)

    def path = File.join(SETTINGS.home, "setup_code")

    def plain(text) = text.to_s.upcase.gsub(/[^A-Z0-9]/, "")
  end
end
