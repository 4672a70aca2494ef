# frozen_string_literal: true

module Web
  module Routes
    # Classes, their rosters, and how trainees get in.
    module Classes
      def self.registered(app)
        entrance(app)
        rosters(app)

        app.get("/classes") do
          need_instructor!
          page :"classes/index", title: "Classes", rooms: Store::Classes.new.of(current_user), form: ClassForm.new, import_error: nil
        end

        app.post("/classes") do
          need_instructor!
          form = ClassForm.new(params)
          unless form.valid?
            status 422
            next page(:"classes/index", title: "Classes", rooms: Store::Classes.new.of(current_user), form: form, import_error: nil)
          end
          room = Store::Classes.new.create(current_user, form[:name])
          audit "made a class", "class #{room.id}", room.name
          redirect "/classes/#{room.id}"
        end

        app.get("/classes/:id") { show_class(room_of_mine) }

        app.post("/classes/:id/archive") do
          room = room_of_mine
          Store::Classes.new.archive(room, !room.archived?)
          audit room.archived? ? "took a class out of the archive" : "archived a class", "class #{room.id}", room.name
          redirect "/classes/#{room.id}"
        end
      end

      def self.entrance(app)
        app.get("/join") { page :"classes/join", title: "Join a class", form: JoinForm.new(params, Store::Classes.new, Store::Users.new) }

        app.post("/join") do
          form = JoinForm.new(params, Store::Classes.new, Store::Users.new)
          unless form.valid? && form.join
            status 422
            next page(:"classes/join", title: "Join a class", form: form)
          end
          sign_in!(form.user)
          redirect "/work"
        end
      end

      def self.rosters(app)
        app.post("/classes/:id/roster") do
          room = room_of_mine
          form = RosterForm.new(params, Store::Classes.new.members(room).map(&:name))
          unless form.valid?
            status 422
            next show_class(room, form)
          end
          count = Store::Classes.new.enrol(room, form.entries)
          audit "added to the roster", "class #{room.id}", "#{count} trainees"
          flash "#{count} #{(count == 1) ? "trainee is" : "trainees are"} on the roster now."
          redirect "/classes/#{room.id}"
        end

        app.post("/classes/:id/members/:user_id/pin") do
          room = room_of_mine
          member = Store::Classes.new.members(room).find { |user| user.id == params[:user_id].to_i } || halt(404)
          Store::Users.new.forget_pin(member)
          audit "let choose a new PIN", "user #{member.id}", member.name
          flash "#{member.name} chooses a new PIN when joining with the class code."
          redirect "/classes/#{room.id}"
        end

        app.post("/classes/:id/members/:user_id/remove") do
          room = room_of_mine
          Store::Classes.new.remove(room, params[:user_id].to_i)
          audit "took off the roster", "class #{room.id}", "user #{params[:user_id].to_i}"
          redirect "/classes/#{room.id}"
        end
      end
    end
  end
end
