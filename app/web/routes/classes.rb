# frozen_string_literal: true

module Web
  module Routes
    # Classes, their rosters, and how trainees get in.
    module Classes
      def self.registered(app)
        rosters(app)
        members(app)
        newcomers(app)
        ways_in(app)
        benches(app)

        app.get("/classes") do
          need_instructor!
          page :"classes/index",
            title: "Classes",
            courses: stores.classes.of(current_user),
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
                courses: stores.classes.of(current_user),
                form: form,
                import_error: nil
              )
            )
          end
          course = stores.classes.create(current_user, form[:name])
          audit "made a class", "class #{course.id}", course.name
          redirect "/classes/#{course.id}"
        end

        app.get("/classes/:id") { show_class(course_of_mine) }

        app.post("/classes/:id/archive") do
          course = course_of_mine
          stores.classes.archive(course, !course.archived?)
          done = course.archived? ? "took a class out of the archive" : "archived a class"
          audit done, "class #{course.id}", course.name
          redirect "/classes/#{course.id}"
        end
      end

      def self.rosters(app)
        app.post("/classes/:id/roster") do
          course = course_of_mine
          form = RosterForm.new(params, stores.classes.members(course).map(&:name))
          unless form.valid?
            status 422
            next show_class(course, form)
          end
          count = stores.classes.enrol(course, form.entries)
          audit "added to the roster", "class #{course.id}", "#{count} trainees"
          flash "#{count} #{(count == 1) ? "trainee is" : "trainees are"} on the roster now. " \
            "Their cards have name, code and PIN."
          redirect "/classes/#{course.id}"
        end
      end

      # One person of the roster: another name, another PIN, out of the class, into another, or one with a second
      # entry.
      def self.members(app)
        app.get("/classes/:id/members/:user_id") do
          course = course_of_mine
          show_member(course, member_of(course))
        end

        app.post("/classes/:id/members/:user_id/rename") do
          course = course_of_mine
          member = member_of(course)
          form = NameForm.new(params, stores.classes.members(course) - [member])
          unless form.valid?
            status 422
            next show_member(course, member, form)
          end
          stores.users.rename(member, form.name)
          audit "renamed", "user #{member.id}", "#{member.name} to #{form.name}"
          flash "#{member.name} is #{form.name} now, on everything they did."
          redirect "/classes/#{course.id}"
        end

        app.post("/classes/:id/members/:user_id/pin") do
          course = course_of_mine
          member = member_of(course)
          pin = stores.users.give_pin(member)
          audit "gave a new PIN", "user #{member.id}", member.name
          flash "The new PIN of #{member.name} is #{pin}. It is on their card; the old one no longer works."
          redirect "/classes/#{course.id}"
        end

        app.post("/classes/:id/members/:user_id/remove") do
          course = course_of_mine
          member = member_of(course)
          stores.classes.remove(course, member.id)
          hand_in_work_of(course, member)
          audit "took off the roster", "class #{course.id}", member.name
          flash "#{member.name} is off the roster. What they did stays on record."
          redirect "/classes/#{course.id}"
        end

        app.post("/classes/:id/members/:user_id/merge") do
          course = course_of_mine
          member = member_of(course)
          other =
            stores.classes.members(course).find { |user| user.id.to_s == params[:other_id] && user.id != member.id }
          unless other
            status 422
            next show_member(course, member, problem: "Choose who is the same person as #{member.name}.")
          end
          stores.classes.merge(member, other)
          audit "merged two entries", "user #{member.id}", "#{other.name} into #{member.name}"
          flash "What #{other.name} did is #{member.name}'s now; the name #{other.name} is gone."
          redirect "/classes/#{course.id}"
        end

        app.post("/classes/:id/members/:user_id/move") do
          course = course_of_mine
          member = member_of(course)
          target = stores.classes.find(current_user, whole(:class_id))
          unless target && target.id != course.id && stores.classes.member_named(target, member.name).nil?
            status 422
            next show_member(course, member, problem: "Choose another class of yours that has nobody of that name.")
          end
          hand_in_work_of(course, member)
          stores.classes.move(course, member, target)
          audit "moved", "user #{member.id}", "#{member.name} from #{course.name} to #{target.name}"
          flash "#{member.name} is in #{target.name} now, with what they practised. " \
            "Exams stay with the class they were held in."
          redirect "/classes/#{target.id}"
        end
      end

      # Who came by the code: let in, or turned away.
      def self.newcomers(app)
        app.post("/classes/:id/newcomers") do
          course = course_of_mine
          how = Store::Classes::NEWCOMERS.keys.find { |key| key == params[:newcomers] } || halt(404)
          stores.classes.receive(course, how)
          flash "Saved. New people #{Store::Classes::NEWCOMERS.fetch(how).sub("for me", "for you")}."
          redirect "/classes/#{course.id}"
        end

        app.post("/classes/:id/newcomers/:user_id") do
          course = course_of_mine
          person = stores.classes.newcomers(course).find { |user| user.id == whole(:user_id) } || halt(404)
          if params[:how] == "in"
            stores.classes.let_in(course, person)
            audit "let somebody in", "class #{course.id}", person.name
            flash "#{person.name} is on the roster."
            to_the_room(course) if params[:exam]
          else
            stores.classes.turn_away(course, person)
            audit "turned somebody away", "class #{course.id}", person.name
            flash "#{person.name} was turned away."
          end
          redirect "/classes/#{course.id}"
        end
      end

      # How trainees get in: a page for the room, and cards to hand out.
      def self.ways_in(app)
        app.get("/classes/:id/join") do
          course = course_of_mine
          page :"classes/projector", title: "Join #{course.name}", wide: true, course: course
        end

        app.get("/classes/:id/cards.pdf") do
          course = course_of_mine
          members = stores.classes.members(course)
          audit "printed cards", "class #{course.id}", "#{members.size} trainees"
          content_type "application/pdf"
          Pdf::Cards.new(course, members, join_url(course), public_url).render
        end

        app.get("/classes/:id/members.pdf") do
          course = course_of_mine
          audit "printed the list", "class #{course.id}", course.name
          content_type "application/pdf"
          Pdf::RosterSheet.new(course, stores.classes.members(course), public_url, day_words(Clock.now)).render
        end
      end

      # Practice for one, some or all, at one station or several, with one press.
      def self.benches(app)
        app.get("/classes/:id/practice") { show_practice_form(course_of_mine) }

        app.post("/classes/:id/practice") do
          course = course_of_mine
          form = PracticeForm.new(params, stores.stations.of(current_user), stores.classes.members(course))
          unless form.valid?
            status 422
            next show_practice_form(course, form)
          end
          count =
            stores.attempts.create_many(
              form.stations,
              form.trainees,
              instructor: current_user,
              policy: usual_policy,
              course: course
            )
          audit "gave practice",
            "class #{course.id}",
            "#{form.stations.map(&:title).join(", ")} to #{form.trainees.size} trainees"
          flash "#{count} practice #{(count == 1) ? "bench is" : "benches are"} given: " \
            "#{form.stations.size} stations to #{form.trainees.size} trainees."
          redirect "/classes/#{course.id}"
        end
      end
    end
  end
end
