# frozen_string_literal: true

require "rqrcode"

module Web
  module Helpers
    # The way in: the door itself, what a device remembers of it, and the address that stands on cards and screens.
    module Doors
      # The cookie in which a device keeps code and name.
      REMEMBERED = "nurv.door"

      def show_door(form)
        page :"sessions/new",
          title: "Sign in",
          form: form,
          course: form.course || stores.classes.with_code(form.code),
          first: first_field(form)
      end

      # By a link that names a class: a code that is tried counts as a try, and a right one clears it.
      def show_door_by_code(form)
        return show_door(form) if form.code.empty?

        tried = no_code_guessing!
        stores.tries.right(tried) if tried && stores.classes.with_code(form.code)
        show_door(form)
      end

      # @return [Hash, nil] what a right one clears; nil where nothing can be written, and looking goes on
      def no_code_guessing!
        throttle!({code: client_address})
      rescue Sequel::DatabaseError => error
        warn "tries: #{error.message.lines.first&.strip}"
        nil
      end

      # Where one begins to type: at the first field that this device does not know.
      def first_field(form)
        return :code if form.code.empty? && !form.instructor?

        form[:login].empty? ? :login : :password
      end

      # Only this machine is let in: what stands on cards and screens leads nowhere.
      def nobody_else? = asked_here? && Network.new(SETTINGS).loopback?

      # Code and name as this device knows them, until its trainee signs out.
      def remembered_door
        kept = JSON.parse(request.cookies[REMEMBERED].to_s)
        kept.is_a?(Hash) ? kept.slice("code", "login").transform_values { |text| text.to_s[0, 80] } : {}
      rescue JSON::ParserError
        {}
      end

      def remember_door(form)
        return if form.user.instructor? || form.course.nil?

        remember(REMEMBERED, JSON.generate(code: form.course.join_code, login: form.user.name))
      end

      # The address under which tablets reach this server: as set, or as the one who asks reached it, or the machine's
      # own.
      def public_url
        return SETTINGS.url if SETTINGS.url

        (asked_here? && Network.new(SETTINGS).urls.first) || "#{request.scheme}://#{request.host_with_port}"
      end

      # Whoever asks sits at this machine.
      def asked_here? = request.host.to_s.match?(/\A(localhost|127\.|\[?::1)/)

      def join_url(course) = "#{public_url}/c/#{course.join_code}"

      # @return [String] SVG, drawn here
      def qr_code(text) =
        RQRCode::QRCode.new(text, level: :m).as_svg(
          viewbox: true,
          use_path: true,
          svg_attributes: {
            class: "qr",
            role: "img",
            "aria-label": "QR code of #{ERB::Util.html_escape(text)}"
          }
        )
    end
  end
end
