# frozen_string_literal: true

module Web
  module Routes
    # The one door: signing in, joining a class, and out again.
    module Sessions
      REMEMBERED = "nurv.door"

      def self.registered(app)
        app.get("/sign-in") do
          redirect "/setup" unless Store::Users.new.any?
          show_door DoorForm.new(
            {
              "as" => params[:as],
              "code" => params[:code],
              **remembered_door.except(*("code" if params[:code]))
            }
          )
        end

        # What a QR code and a card lead to.
        app.get("/c/:code") do
          form = DoorForm.new({"code" => params[:code], **remembered_door.slice("login")})
          show_door(form)
        end

        # Where trainees were sent before the doors were one.
        app.get("/join") { redirect "/sign-in" }

        app.post("/sign-in") do
          form = DoorForm.new(params)
          tried = no_guessing!(form.account, known: known_device.knows?(form.meant))
          user = form.enter
          unless user
            Store::Tries.new.right(tried) if form.unknown?
            status 422
            next show_door(form)
          end
          Store::Tries.new.right(tried)
          sign_in!(user)
          remember_door(form)
          redirect(user.instructor? ? "/today" : "/work")
        end

        app.post("/sign-out") do
          sign_out!
          response.delete_cookie(REMEMBERED, path: "/")
          redirect "/sign-in"
        end

        own_pin(app)
      end

      def self.own_pin(app)
        app.get("/pin") do
          need_trainee!
          page :"sessions/pin", title: "Your PIN", form: PinForm.new({}, nil)
        end

        app.post("/pin") do
          need_trainee!
          tried = no_guessing!(current_user.name)
          form = PinForm.new(params, ->(pin) { Store::Users.new.pin?(current_user, pin) })
          unless form.valid?
            status 422
            next page(:"sessions/pin", title: "Your PIN", form: form)
          end
          Store::Tries.new.right(tried)
          Store::Users.new.change_password(current_user, form[:pin], keep: session["token"])
          flash "Your PIN is changed. Other devices are signed out."
          redirect "/work"
        end
      end
    end
  end
end
