# frozen_string_literal: true

module Web
  module Routes
    # Signing in and out.
    module Sessions
      def self.registered(app)
        app.get("/sign-in") do
          redirect "/setup" unless Store::Users.new.any?
          page :"sessions/new", title: "Sign in", login: "", error: nil
        end

        app.post("/sign-in") do
          user = Store::Users.new.authenticate(params[:login], params[:password])
          unless user
            status 422
            next page(:"sessions/new", title: "Sign in", login: params[:login].to_s, error: "That name and password do not go together. Check both and try again.")
          end
          sign_in!(user)
          redirect(user.instructor? ? "/today" : "/work")
        end

        app.post("/sign-out") do
          session.clear
          redirect "/sign-in"
        end
      end
    end
  end
end
