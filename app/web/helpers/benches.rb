# frozen_string_literal: true

module Web
  module Helpers
    # The picture of a bench, and what of it an act changes.
    module Benches
      PARTS = {
        turn: :turned,
        look: :papers,
        tell: :papers,
        jot: :papers,
        find: :papers,
        declare: :papers,
        clean: :moved_papers,
        repair: :moved_papers,
        fill: :saved
      }.freeze
      FIRST = Recent.new(1_000)
      HANDS = Recent.new(3_000)
      # Exams whose benches are ready in this process.
      READY = Recent.new(100)

      # @param eyes [Boolean] for the tester's own page
      def bench_screen(attempt, eyes: true) =
        BenchScreen.live(attempt, wall_ms, keeper, inside: params[:inside] == "1", eyes: eyes)

      # What can be done to what is in hand. It is drawn from its buttons alone, and most are drawn again and again: a
      # hose that is put on makes twenty rows of them, of which a few are not as they were.
      #
      # @param owner [String, Symbol] what is in hand
      # @param buttons [Array<BenchButtons::Button>]
      def row_of_buttons(screen, owner, buttons) =
        HANDS.fetch([owner, buttons]) { piece(:"bench/_buttons", screen: screen, owner: owner, buttons: buttons) }

      # The same of a valve, with its name, how it stands, and its tags.
      def hand_of(screen, control, oob:)
        buttons = screen.buttons(control)
        tags = screen.tag_buttons(control)
        HANDS.fetch([control, buttons, tags, oob]) do
          piece(:"bench/_hand", screen: screen, control: control, buttons: buttons, tags: tags, oob: oob)
        end
      end

      # Of a bench that nobody has touched: all that were drawn from one station begin alike, and open together. Nothing
      # in it may name the attempt, or tell what runs.
      def first_piece(view, screen:, **locals)
        return piece(view, screen: screen, **locals) unless screen.seq.zero?

        FIRST.fetch([view, screen.station.catalog.object_id, screen.looks]) { piece(view, screen: screen, **locals) }
      end

      # The picture alike, where nothing moves in it that would be drawn otherwise a moment later.
      def first_picture(screen)
        still = screen.still_picture if screen.seq.zero?
        return piece(:"bench/_drawing", screen: screen, oob: false) unless still

        FIRST.fetch([:drawing, screen.station.catalog.object_id, screen.looks, still]) do
          piece(:"bench/_drawing", screen: screen, oob: false)
        end
      end

      # The pieces of a bench page that are the same for all who begin there.
      FIRST_PIECES = %i[site report hands papers_body].freeze

      # Settles and draws benches before anybody opens them: a class opens thirty in one breath. It is done aside, while
      # a page is drawn here, and by somebody else: a view writes into the one who draws it.
      #
      # @param attempts [Array<Store::Attempt>]
      # @return [Thread]
      def make_ready(attempts)
        aside = dup
        keeper.prepare(attempts) { |one| aside.draw_ahead(one) }
      end

      # One bench, and the first time that somebody of its exam comes by in this process, all of that exam's: who begins
      # may do so in another than the one in which the exam was opened, or in which they read what is asked of them.
      #
      # @param attempt [Store::Attempt]
      def make_ready_with_its_exam(attempt)
        return make_ready([attempt]) if attempt.exam_id.nil? || READY[attempt.exam_id]

        make_exam_ready(attempt.exam_id, first: attempt)
      end

      # @param exam_id [Integer]
      # @param first [Store::Attempt, nil] whose owner may begin any moment
      # @return [Thread]
      def make_exam_ready(exam_id, first: nil)
        READY.keep(exam_id, true)
        assigned = stores.attempts.of_exam_number(exam_id).select(&:assigned?)
        make_ready(assigned.partition { |one| one.id == first&.id }.flatten)
      end

      def draw_ahead(attempt)
        screen = bench_screen(attempt)
        FIRST_PIECES.each { |name| first_piece(:"bench/_#{name}", screen: screen, oob: false) }
        first_picture(screen)
      end

      # Another procedure, other readings to write down.
      def part_of(data) = (data[:field] == "procedure") ? :chosen : PARTS.fetch(data[:kind].to_sym, :scene)

      # Why a page knew less of the bench than the server.
      #
      # @param known_seq [Integer] the newest act that the page had seen
      # @param window [String] the page that asks
      def moved_on_words(attempt, known_seq, window)
        ids = stores.attempts.action_ids_after(attempt, known_seq)
        if window != "" && ids.all? { |id| id.start_with?("#{window}-") }
          return "The connection faltered. This is how the bench stands now."
        end
        if ids.all? { |id| id.start_with?("inject-") }
          return "Something has happened at the bench. This is how it stands now."
        end

        "The bench has moved on in another window. This is how it stands now."
      end

      # @param error [Nurv::RefusedAction]
      # @return [String] why the bench cannot do it, for whoever tried
      def refusal(error, attempt) =
        bench_words(attempt).error(
          error,
          Nurv::Words::About.new(kit: attempt.station.kit, assembly: attempt.station.assembly)
        )

      # As things are called at this bench by who works there.
      def bench_words(attempt)
        station = attempt.station
        keeper.of(attempt).look { |span| Nurv::Bench::Tags.words(station, span.state, station.tags_to_hang?) }
      end

      def act_answer(attempt, data, problem)
        part = problem ? :refused : part_of(data)
        screen = bench_screen(attempt)
        screen.turned = screen.controls.map(&:id).find { |id| id.to_s == data[:valve].to_s } if data[:valve]
        screen.look_at(data[:at].to_s) if data[:kind].to_s == "look" && !problem
        # The hand is still at it: nothing is drawn anew under a finger.
        part = :ramped if part == :turned && params[:hand] == "on"
        changed = piece(:"bench/_#{part}", screen: screen, problem: problem, notice: nil, turned: data[:valve].to_s)
        changed + unasked(attempt, screen)
      end

      # What a coach says by itself after an act, as much as the page's tester has asked for.
      def unasked(attempt, screen)
        level = {"nudges" => "ask", "talks" => "act"}[params[:coach]]
        (level && attempt.coached? && attempt.started?) ? coach_piece(attempt, screen, level) : ""
      end

      # @param level [String] of COACH_LEVELS
      def coach_piece(attempt, screen, level)
        advice = keeper.of(attempt).advice(attempt, screen.now_ms / 1000.0)
        more = COACH_LEVELS.take_while { |one| one != level } + [level]
        lines = {lost: advice.lost, ask: advice.question, reason: advice.reason, act: advice.act}
        told = lines.slice(:lost, *more.map(&:to_sym))
        said = told.flat_map { |kind, list| list.map { |one| [kind, tell(attempt, one)] } }
        piece :"bench/_coach", said: said, level: level, mode: coach_mode, oob: true
      end

      # Why the needle does what it does now; what is hidden inside is named only where the inside is shown.
      def why_piece(attempt, screen)
        remarks =
          keeper.of(attempt).look do |span|
            Nurv::Teaching::Why.new(span, screen.now_ms / 1000.0, open: params[:inside] == "1").remarks
          end
        said = remarks.map { |one| [:why, tell(attempt, one)] }
        piece :"bench/_coach", said: said, level: nil, mode: coach_mode, oob: true
      end

      # How much is said the more is asked.
      COACH_LEVELS = %w[ask reason act].freeze

      def coach_mode
        modes = Nurv::Teaching::Coach::MODES.map(&:to_s)
        modes.find { |mode| [params[:mode], params[:coach]].include?(mode) } || modes.first
      end

      # In the names and the unit of this bench.
      def tell(attempt, remark) = bench_words(attempt).tell(remark, about_bench(attempt))

      def about_bench(attempt) =
        Nurv::Words::About.new(
          procedure: keeper.of(attempt).procedure,
          kit: attempt.station.kit,
          assembly: attempt.station.assembly,
          repairs: attempt.catalog.repairs,
          unit: attempt.grading_policy.unit
        )
    end
  end
end
