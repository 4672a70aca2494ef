# frozen_string_literal: true

module Web
  module Helpers
    # Rendering: a whole page in the frame, or a piece of one.
    module Pages
      # @param wide [Boolean] the bench uses the whole window
      def page(view, title:, wide: false, **locals)
        erb view, layout: :"layouts/page", locals: {title: title, wide: wide, **locals}
      end

      def piece(view, **locals) = erb(view, layout: false, locals: locals)

      def csrf_field = %(<input type="hidden" name="authenticity_token" value="#{csrf_token}">)

      def flash(text = nil)
        return session.delete("flash") unless text

        session["flash"] = text
      end

      def when_words(time) = time ? time.strftime("%-d %b, %H:%M") : "–"
    end
  end
end
