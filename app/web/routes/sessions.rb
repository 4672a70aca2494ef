# frozen_string_literal: true

module Web
  module Routes
    # The one door: signing in, joining a class, and out again.
    module Sessions
      def self.registered(app)
        app.get("/sign-in") do
          redirect "/setup" unless stores.users.any?
          known = remembered_door.except(*("code" if params[:code]))
          show_door_by_code DoorForm.new({"as" => params[:as], "code" => params[:code], **known}, stores)
        end

        # What a QR code and a card lead to.
        app.get("/c/:code") do
          show_door_by_code DoorForm.new({"code" => params[:code], **remembered_door.slice("login")}, stores)
        end

        # Where trainees were sent before the doors were one.
        app.get("/join") { redirect "/sign-in" }

        app.post("/sign-in") do
          form = DoorForm.new(params, stores)
          tried = no_guessing!(form.account, known: known_device.knows?(form.meant))
          throttle!({newcomer: "#{form.code}/#{client_address}"}) if form.new_here? && !form.code.empty?
          user = form.enter
          unless user
            stores.tries.right(tried) if form.unknown?
            status 422
            next show_door(form)
          end
          stores.tries.right(tried)
          sign_in!(user)
          remember_door(form)
          redirect(user.instructor? ? "/today" : "/work")
        end

        app.post("/sign-out") do
          sign_out!
          response.delete_cookie(Helpers::Doors::REMEMBERED, path: "/")
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
          form = PinForm.new(params, ->(pin) { stores.users.pin?(current_user, pin) })
          unless form.valid?
            status 422
            next page(:"sessions/pin", title: "Your PIN", form: form)
          end
          stores.tries.right(tried)
          stores.users.change_password(current_user, form[:pin], keep: session["token"])
          flash "Your PIN is changed. Other devices are signed out."
          redirect "/work"
        end
      end
    end
  end
end
