# frozen_string_literal: true

module Web
  module Routes
    # The classroom display: a bench on the projector, steered from a phone or the same laptop, and what the class is
    # asked about it.
    module Displays
      # A projector and a phone do not ask for more.
      LONGEST_ID = 40

      def self.registered(app)
        app.get("/classes/:id/board") do
          course = course_of_mine
          board = stores.boards.of(course)
          page :"boards/steer",
            title: "Display of #{course.name}",
            course: course,
            screen: board && board_screen(course, board),
            stations: stores.stations.of(current_user)
        end

        app.post("/classes/:id/board") do
          course = course_of_mine
          row = stores.stations.find(current_user, whole(:station)) || halt(404)
          display.open(course, row, current_user, usual_policy, wall_ms)
          audit "showed", "class #{course.id}", row.title
          redirect "/classes/#{course.id}/board"
        end

        app.post("/classes/:id/board/close") do
          course = course_of_mine
          stores.boards.take_away(course)
          redirect "/classes/#{course.id}/board"
        end

        # What the projector shows.
        app.get("/classes/:id/board/show") do
          course, board = board_of_mine
          screen = board_screen(course, board)
          known = lately(screen.attempt)
          page :"boards/show", title: course.name, wide: true, screen: screen, known: known
        end

        # Asked twice a second by the projector: keyframes, and the picture where it is another.
        app.get("/classes/:id/board/scene") do
          course, board = board_of_mine
          screen = board_screen(course, board)
          piece :"boards/_moved",
            screen: screen,
            known: params[:picture].to_s,
            asked: params[:question].to_s,
            said: params[:said].to_s
        end

        app.get("/classes/:id/board/bench") do
          _, board = board_of_mine
          redirect "/attempts/#{board.attempt_id}/bench"
        end

        steering(app)
        asking(app)
      end

      def self.steering(app)
        app.get("/classes/:id/board/state") do
          course, board = board_of_mine
          piece :"boards/_state", screen: board_screen(course, board)
        end

        app.post("/classes/:id/board/steer") do
          course, board = board_of_mine
          how = ::Benches::Display::WAYS.find { |way| way.to_s == params[:how] } || halt(404)
          display.steer(board, how, wall_ms)
          steered(course)
        end

        app.post("/classes/:id/board/view") do
          course, board = board_of_mine
          view = Store::Boards::VIEWS.find { |one| one.to_s == params[:view] } || halt(404)
          stores.boards.look(board, view)
          steered(course)
        end

        app.post("/classes/:id/board/why") do
          course, board = board_of_mine
          stores.boards.say_why(board, params[:says] == "1")
          steered(course)
        end

        app.post("/classes/:id/board/trouble") do
          course, board = board_of_mine
          id = "inject-#{params[:action_id].to_s[0, LONGEST_ID]}"
          display.trouble(board, InjectForm.new(params).data, id, wall_ms)
          steered(course, "It happens now.")
        rescue Nurv::RefusedAction => error
          steered(course, refusal(error, display.now(board, wall_ms)))
        end
      end

      def self.asking(app)
        app.post("/classes/:id/board/question") do
          course, board = board_of_mine
          attempt = display.now(board, wall_ms)
          kinds = Nurv::Teaching::Asked.kinds(attempt.station.assembly)
          kind = kinds.find { |one| one.to_s == params[:kind] } || halt(404)
          stores.boards.ask_class(board, kind, attempt.clock_ms(wall_ms))
          steered(course)
        end

        app.post("/classes/:id/board/answer") do
          course, board = board_of_mine
          question = stores.boards.question(course.id)
          if question&.open?
            assembly = display.now(board, wall_ms).station.assembly
            choices = Nurv::Teaching::Asked.choices(question.kind, assembly)
            stores.boards.count_hands(question, hands_typed(choices))
            stores.boards.close(question, display.truths(board, question, wall_ms)) if params[:show] == "1"
          end
          steered(course)
        end

        # What a trainee's class is asked, on whatever page they are.
        app.get("/asked") do
          need_trainee!
          # 286: no more questions from this page.
          halt 286, "" if stores.attempts.examined?(current_user)
          asked(stores.boards.asked_of(current_user), params[:known].to_s)
        end

        app.post("/asked/:question") do
          need_trainee!
          halt 286, "" if stores.attempts.examined?(current_user)
          question = stores.boards.asked_of(current_user)
          halt 404 unless question && question.id == whole(:question)
          choice = choices_of(question).find { |one| one.to_s == params[:choice] } || halt(404)
          stores.boards.answer(question, current_user, choice)
          asked(stores.boards.asked_of(current_user), "")
        end
      end
    end
  end
end
