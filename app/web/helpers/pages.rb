# frozen_string_literal: true

module Web
  module Helpers
    # Rendering: a whole page in the frame, or a piece of one.
    module Pages
      # Styles by area; a later one may refine an earlier.
      STYLES = %w[
        base
        forms
        doors
        bench
        drawing
        site
        report
        result
        reference
        builder
        adopted
        room
        records
        proctor
        board
        print
      ].freeze

      PIECES = {}
      private_constant :PIECES

      # @return [Tilt::Template] as Sinatra compiles it
      def self.template(view, settings)
        return compiled(view, settings) if settings.reload_templates

        PIECES[view] ||= compiled(view, settings)
      end

      def self.compiled(view, settings) =
        Tilt::ErubiTemplate.new(
          File.join(settings.views, "#{view}.erb"),
          **settings.erb,
          outvar: "@_out_buf",
          default_encoding: settings.default_encoding
        )
      private_class_method :compiled

      IN_ATTRIBUTE = {"&" => "&amp;", "'" => "&#39;", "<" => "&lt;", ">" => "&gt;"}.freeze
      private_constant :IN_ATTRIBUTE

      # @param json [String]
      # @return [String] for an attribute in single quotes: it is full of double ones, each of which would be told in
      #   six characters
      def self.in_attribute(json) = json.gsub(/[&'<>]/, IN_ATTRIBUTE)

      # In the frame. Compiled once for all, as pieces are: Sinatra would for each of its instances.
      #
      # @param wide [Boolean] the bench uses the whole window
      # @return [String]
      def page(view, title:, wide: false, **locals)
        body = piece(view, title: title, wide: wide, **locals)
        Pages.template(:"layouts/page", settings).render(self, title: title, wide: wide) { body }
      end

      # The disk is full, or the database is locked: a script at work gets a sentence to show where it works, a form is
      # shown again with what was typed.
      #
      # @param error [Sequel::DatabaseError]
      # @return [String, nil] nil for any other trouble
      def not_saved(error)
        sentence = Store::Trouble.sentence(error) or return
        warn "not saved: #{request.request_method} #{request.path_info}: #{error.message.lines.first&.strip}"
        status 503
        headers "retry-after" => "5"
        if htmx?
          content_type "text/plain"
          return sentence
        end
        page :"shared/not_saved", title: "Not saved", sentence: sentence, typed: typed_fields
      end

      # What came with a form, but for its token and what nobody may see again.
      #
      # @return [Array<Array(String, String)>] names as posted, and values
      def typed_fields
        return [] unless request.post?

        Rack::Utils
          .build_nested_query(request.POST.reject { |name, value| name == "authenticity_token" || value.is_a?(Hash) })
          .split("&")
          .map { |pair| pair.split("=", 2).map { |part| Rack::Utils.unescape(part.to_s) } }
          .map { |name, value| [name, value.to_s] }
          .reject { |name, _| name.match?(/pass|pin|now|code/i) }
      end

      # “Closing SOV2 first” in the middle of a sentence; “TC1” stays as it is.
      def lower_first(text) = text.sub(/\A[A-Z](?=[a-z ])/, &:downcase)

      # @param name [String] a file in public/
      # @return [String] its path, which changes when it does
      def asset(name) = Middleware::Assets.path(name)

      def wall_ms = Clock.wall_ms

      # @return [Store::Cabinet]
      def stores = settings.stores

      # @return [Benches::Keeper]
      def keeper = settings.keeper

      # @return [Nurv::Catalog] the facts pages choose from: what ships, and an instructor's own
      def catalog
        @catalog ||= current_user&.instructor? ? stores.catalogs.of(current_user) : stores.catalog
      end

      # @return [Nurv::Words] labels and sentences
      def words = catalog.words

      # @return [Array<Array(String, String)>] what a trainee is told of a policy
      def policy_rows(policy) = Nurv::Words::ToldPolicy.new(policy, words).rows

      # @return [Integer] a parameter as a whole number; 0 for what is none, or too large to be one of ours
      def whole(name) = params[name].then { |value| value.is_a?(String) ? value.to_i.clamp(-(2**53), 2**53) : 0 }

      # A piece of a page. A bench has some eighty of them, so each is compiled once and asked directly.
      def piece(view, **locals) = Pages.template(view, settings).render(self, locals)

      def csrf_field = %(<input type="hidden" name="authenticity_token" value="#{csrf_token}">)

      def flash(text = nil)
        return session.delete("flash") unless text

        session["flash"] = text
      end

      # Times are told in the zone of whoever reads them.
      def local_time = LocalTime.new(current_user&.time_zone || "UTC")

      def zone = TZInfo::Timezone.get(current_user.time_zone)

      def when_words(time) = local_time.moment(time)

      def day_words(time) = local_time.day(time)

      def differential(psid) = Nurv::Units.differential(psid, unit: (current_user&.units == "kpa") ? :kpa : :psi)

      # A reading as its reader likes to see it: “8.0 psid” stays or becomes kPa.
      def in_units(text) = text.to_s.sub(/\A(-?[\d.]+) psid\z/) { differential(Regexp.last_match(1).to_f) }

      def status_words(attempt) = StatusWords.of(attempt)
    end
  end
end
