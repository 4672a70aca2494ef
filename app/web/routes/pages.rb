# frozen_string_literal: true

module Web
  module Routes
    # Pages that are nobody's own: start, help, limits.
    module Pages
      def self.registered(app)
        app.get("/") do
          need_user!
          redirect(current_user.instructor? ? "/today" : "/work")
        end

        app.get("/help") { page :"help/show", title: "Help and keyboard" }

        app.get("/about") { page :"help/about", title: "About and limits" }
      end
    end
  end
end
