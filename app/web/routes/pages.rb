# frozen_string_literal: true

module Web
  module Routes
    # Pages that are nobody's own: start, help, limits, and how the server is.
    module Pages
      def self.registered(app)
        app.get("/") do
          need_user!
          redirect(current_user.instructor? ? "/today" : "/work")
        end

        app.get("/help") { page :"help/show", title: "Help and keyboard" }

        app.get("/about") { page :"help/about", title: "About and limits" }

        # For whoever watches the server: 200 if it can work, 503 and why if it cannot.
        app.get("/health") do
          health = stores.health.to_h
          status health[:ok] ? 200 : 503
          content_type "application/json"
          JSON.generate(health)
        end
      end
    end
  end
end
