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
      FIRST = Recent.new(300)

      def bench_screen(attempt) = BenchScreen.live(attempt, wall_ms, keeper, inside: params[:inside] == "1")

      # Of a bench that nobody has touched: all that were drawn from one station begin alike, and open together. Nothing
      # in it may name the attempt, or tell what runs.
      def first_piece(view, screen:, **locals)
        return piece(view, screen: screen, **locals) unless screen.seq.zero?

        FIRST.fetch([view, screen.station.catalog.object_id, screen.looks]) { piece(view, screen: screen, **locals) }
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
        words.error(error, Nurv::Words::About.new(kit: attempt.station.kit, assembly: attempt.station.assembly))

      def act_answer(attempt, data, problem)
        part = problem ? :refused : part_of(data)
        piece :"bench/_#{part}",
          screen: bench_screen(attempt),
          problem: problem,
          notice: nil,
          turned: data[:valve].to_s
      end
    end
  end
end
