# frozen_string_literal: true

module Web
  module Helpers
    # Who is signed in, and what they may do.
    module Access
      def current_user
        return @current_user if defined?(@current_user)

        @current_user = session["user_id"] && Store::Users.new.find(session["user_id"])
      end

      def sign_in!(user)
        session.clear
        session["user_id"] = user.id
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
        Store::Attempts.new.find_for(current_user, params[:id].to_i) || halt(404)
      end

      # The attempt, if this user is the one who works at it.
      def attempt_at_work
        attempt = attempt_of_mine
        halt 404 unless attempt.trainee_id == current_user.id
        attempt
      end

      # The same, handed in if its time is over: nothing is done after that, whoever asks and however often.
      def attempt_in_time
        attempt = attempt_at_work
        return attempt unless attempt.overdue?(wall_ms)

        Store::Attempts.new.hand_in([attempt], wall_ms)
        Store::Attempts.new.find(attempt.id)
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

      # The attempt, if its result is there for this user to see.
      def attempt_to_read
        attempt = attempt_of_mine
        may = attempt.instructor_id == current_user.id || attempt.open_to_trainee?
        halt 404 unless attempt.over? && may
        attempt
      end

      # The exam that an attempt belongs to, whoever asks.
      def exam_of(attempt) = attempt.exam_id && Store::Exams.new.of_attempt(attempt)

      def csrf_token = Rack::Protection::AuthenticityToken.token(session)

      def htmx? = request.env["HTTP_HX_REQUEST"] == "true"
    end
  end
end
