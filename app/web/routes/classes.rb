# frozen_string_literal: true

module Web
  module Routes
    # Classes, their rosters, and how trainees get in.
    module Classes
      def self.registered(app)
        rosters(app)
        members(app)
        ways_in(app)
        benches(app)

        app.get("/classes") do
          need_instructor!
          page :"classes/index",
            title: "Classes",
            rooms: stores.classes.of(current_user),
            form: ClassForm.new,
            import_error: nil
        end

        app.post("/classes") do
          need_instructor!
          form = ClassForm.new(params)
          unless form.valid?
            status 422
            next(
              page(
                :"classes/index",
                title: "Classes",
                rooms: stores.classes.of(current_user),
                form: form,
                import_error: nil
              )
            )
          end
          room = stores.classes.create(current_user, form[:name])
          audit "made a class", "class #{room.id}", room.name
          redirect "/classes/#{room.id}"
        end

        app.get("/classes/:id") { show_class(room_of_mine) }

        app.post("/classes/:id/archive") do
          room = room_of_mine
          stores.classes.archive(room, !room.archived?)
          audit room.archived? ? "took a class out of the archive" : "archived a class", "class #{room.id}", room.name
          redirect "/classes/#{room.id}"
        end
      end

      def self.rosters(app)
        app.post("/classes/:id/roster") do
          room = room_of_mine
          form = RosterForm.new(params, stores.classes.members(room).map(&:name))
          unless form.valid?
            status 422
            next show_class(room, form)
          end
          count = stores.classes.enrol(room, form.entries)
          audit "added to the roster", "class #{room.id}", "#{count} trainees"
          flash "#{count} #{(count == 1) ? "trainee is" : "trainees are"} on the roster now. " \
            "Their cards have name, code and PIN."
          redirect "/classes/#{room.id}"
        end
      end

      # One person of the roster: another name, another PIN, out of the class, into another, or one with a second
      # entry.
      def self.members(app)
        app.get("/classes/:id/members/:user_id") do
          room = room_of_mine
          show_member(room, member_of(room))
        end

        app.post("/classes/:id/members/:user_id/rename") do
          room = room_of_mine
          member = member_of(room)
          form = NameForm.new(params, stores.classes.members(room) - [member])
          unless form.valid?
            status 422
            next show_member(room, member, form)
          end
          stores.users.rename(member, form.name)
          audit "renamed", "user #{member.id}", "#{member.name} to #{form.name}"
          flash "#{member.name} is #{form.name} now, on everything they did."
          redirect "/classes/#{room.id}"
        end

        app.post("/classes/:id/members/:user_id/pin") do
          room = room_of_mine
          member = member_of(room)
          pin = stores.users.give_pin(member)
          audit "gave a new PIN", "user #{member.id}", member.name
          flash "The new PIN of #{member.name} is #{pin}. It is on their card; the old one no longer works."
          redirect "/classes/#{room.id}"
        end

        app.post("/classes/:id/members/:user_id/remove") do
          room = room_of_mine
          member = member_of(room)
          stores.classes.remove(room, member.id)
          hand_in_work_of(room, member)
          audit "took off the roster", "class #{room.id}", member.name
          flash "#{member.name} is off the roster. What they did stays on record."
          redirect "/classes/#{room.id}"
        end

        app.post("/classes/:id/members/:user_id/merge") do
          room = room_of_mine
          member = member_of(room)
          other =
            stores.classes.members(room).find { |user| user.id.to_s == params[:other_id] && user.id != member.id }
          unless other
            status 422
            next show_member(room, member, problem: "Choose who is the same person as #{member.name}.")
          end
          stores.classes.merge(member, other)
          audit "merged two entries", "user #{member.id}", "#{other.name} into #{member.name}"
          flash "What #{other.name} did is #{member.name}'s now; the name #{other.name} is gone."
          redirect "/classes/#{room.id}"
        end

        app.post("/classes/:id/members/:user_id/move") do
          room = room_of_mine
          member = member_of(room)
          target = stores.classes.find(current_user, whole(:class_id))
          unless target && target.id != room.id && stores.classes.member_named(target, member.name).nil?
            status 422
            next show_member(room, member, problem: "Choose another class of yours that has nobody of that name.")
          end
          hand_in_work_of(room, member)
          stores.classes.move(room, member, target)
          audit "moved", "user #{member.id}", "#{member.name} from #{room.name} to #{target.name}"
          flash "#{member.name} is in #{target.name} now, with what they practised. " \
            "Exams stay with the class they were held in."
          redirect "/classes/#{target.id}"
        end
      end

      # How trainees get in: a page for the room, and cards to hand out.
      def self.ways_in(app)
        app.get("/classes/:id/join") do
          room = room_of_mine
          page :"classes/projector", title: "Join #{room.name}", wide: true, room: room
        end

        app.get("/classes/:id/cards.pdf") do
          room = room_of_mine
          members = stores.classes.members(room)
          audit "printed cards", "class #{room.id}", "#{members.size} trainees"
          content_type "application/pdf"
          Pdf::Cards.new(room, members, join_url(room), public_url).render
        end

        app.get("/classes/:id/members.pdf") do
          room = room_of_mine
          audit "printed the list", "class #{room.id}", room.name
          content_type "application/pdf"
          Pdf::RosterSheet.new(room, stores.classes.members(room), public_url, day_words(Clock.now)).render
        end
      end

      # Practice for one, some or all, at one station or several, with one press.
      def self.benches(app)
        app.get("/classes/:id/practice") { show_practice_form(room_of_mine) }

        app.post("/classes/:id/practice") do
          room = room_of_mine
          form = PracticeForm.new(params, stores.stations.of(current_user), stores.classes.members(room))
          unless form.valid?
            status 422
            next show_practice_form(room, form)
          end
          count =
            stores.attempts.create_many(
              form.stations,
              form.trainees,
              instructor: current_user,
              policy: usual_policy,
              room: room
            )
          audit "gave practice",
            "class #{room.id}",
            "#{form.stations.map(&:title).join(", ")} to #{form.trainees.size} trainees"
          flash "#{count} practice #{(count == 1) ? "bench is" : "benches are"} given: " \
            "#{form.stations.size} stations to #{form.trainees.size} trainees."
          redirect "/classes/#{room.id}"
        end
      end
    end
  end
end
