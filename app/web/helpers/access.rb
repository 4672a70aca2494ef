# frozen_string_literal: true

module Web
  module Helpers
    # Who is signed in, and what they may do.
    module Access
      def current_user
        return @current_user if defined?(@current_user)

        @current_user = stores.sessions.user_of(session["token"])
        env["nurv.user"] = @current_user&.id
        @current_user
      end

      # Begins a session; this device is known from now on as one that its user has signed in with.
      def sign_in!(user)
        stores.sessions.end(session["token"])
        session.clear
        session["token"] = stores.sessions.begin(user)
        remember(KnownDevice::COOKIE, known_device.with(user).to_s)
      end

      def known_device = KnownDevice.read(request.cookies[KnownDevice::COOKIE])

      # What a device keeps beside its session.
      def remember(cookie, text)
        response.set_cookie(
          cookie,
          value: text,
          path: "/",
          httponly: true,
          same_site: :lax,
          secure: SETTINGS.https,
          max_age: KnownDevice::LIFE_S
        )
      end

      def sign_out!
        stores.sessions.end(session["token"])
        session.clear
      end

      # Where a request comes from: who is connected, or who a proxy of ours says is behind it.
      def client_address
        remote = request.env["REMOTE_ADDR"].to_s
        return remote unless SETTINGS.proxy?(remote)

        request.env["HTTP_X_FORWARDED_FOR"]
          .to_s
          .split(",")
          .last
          .to_s
          .strip
          .then { |given| given.empty? ? remote : given }
      end

      # Stops whoever tries too often, with a page that says how long to wait.
      #
      # @param name [String] whose PIN or password is tried, or what else
      # @param known [Boolean] this device has signed in under that name before
      # @return [Hash] what a right one clears
      def no_guessing!(name, known: false)
        keys = {here: "#{Store::Names.plain(name)}/#{client_address}", address: client_address}
        keys[:name] = Store::Names.plain(name) unless known
        throttle!(keys)
      end

      # @param keys [Hash{Symbol => String}] by rule
      # @return [Hash] the same
      def throttle!(keys)
        wait_s = stores.tries.try(keys)
        return keys if wait_s.zero?

        headers "retry-after" => wait_s.to_s
        halt 429,
          page(
            :"shared/message",
            title: "Not so fast",
            text:
              "That was tried too often. Wait #{(wait_s == 1) ? "a second" : "#{wait_s} seconds"}, then try again."
          )
      end

      # Everything but the public pages needs somebody signed in.
      def need_user!
        return if current_user

        htmx? ? halt(401, {"HX-Redirect" => "/sign-in"}, "") : redirect("/sign-in")
      end

      def need_instructor!
        need_user!
        halt 404 unless current_user.instructor?
      end

      def need_trainee!
        need_user!
        halt 404 unless current_user.trainee?
      end

      # The attempt of this page, if this user is its trainee or its instructor; otherwise it does not exist for them.
      def attempt_of_mine
        need_user!
        attempt = stores.attempts.find_for(current_user, whole(:id)) || halt(404)
        if attempt.sound?
          attempt
        else
          halt(
            410,
            page(
              :"shared/message",
              title: "Cannot be read",
              text: "What is kept of attempt #{attempt.id} is damaged. Nothing else is."
            )
          )
        end
      end

      # The attempt, if this user is the one who works at it. A proctor's sheet is its instructor's; and at a practice
      # bench there is help, so it is shut while its trainee sits in an exam.
      def attempt_at_work
        attempt = attempt_of_mine
        halt 404 if attempt.trainee_id != current_user.id || attempt.proctored?
        not_in_an_exam! if attempt.practice? && current_user.trainee? && stores.attempts.examined?(current_user)
        attempt
      end

      def not_in_an_exam!
        halt 403, "" if htmx?
        halt 403,
          page(
            :"shared/message",
            title: "Not during an exam",
            text: "Your exam is open. Practice and results are available again when you have handed in all of it."
          )
      end

      # The same, for what is asked all the time: what is usual is one question, and all else goes step by step.
      def attempt_at_hand
        visit = stores.visits.at(session["token"], whole(:id), wall_ms)
        return attempt_in_time unless visit&.usual?(wall_ms)

        @current_user = visit.user
        env["nurv.user"] = visit.user.id
        visit.attempt
      end

      # The same, handed in if its time is over: nothing is done after that, whoever asks and however often.
      def attempt_in_time
        attempt = attempt_at_work
        return attempt unless attempt.overdue?(wall_ms)

        keeper.hand_in([attempt], wall_ms)
        stores.attempts.find(attempt.id)
      end

      def attempt_taught
        attempt = attempt_of_mine
        halt 404 unless attempt.instructor_id == current_user.id && current_user.instructor?
        attempt
      end

      def proctored_by_me
        attempt = attempt_taught
        halt 404 unless attempt.proctored?
        attempt
      end

      # The attempt, if its result is there for this user to see. What a practice result says of the steps is help,
      # too.
      def attempt_with_result
        attempt = attempt_of_mine
        mine = attempt.instructor_id == current_user.id
        halt 404 unless attempt.over?
        halt 404 unless mine || attempt.open_to_trainee?
        not_in_an_exam! if !mine && stores.attempts.examined?(current_user)
        attempt
      end

      # The same, once it is graded.
      def attempt_to_read
        attempt = attempt_with_result
        redirect "/attempts/#{attempt.id}/result" if stores.grades.missing([attempt]).any?
        attempt
      end

      # The exam that an attempt belongs to, whoever asks.
      def exam_of(attempt) = attempt.exam_id && stores.exams.of_attempt(attempt)

      def csrf_token = Middleware::Token.token(session)

      def htmx? = request.env["HTTP_HX_REQUEST"] == "true"
    end
  end
end
