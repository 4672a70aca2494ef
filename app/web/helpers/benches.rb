# frozen_string_literal: true

module Web
  module Helpers
    # The picture of a bench, and what of it an act changes.
    module Benches
      PARTS = {turn: :turned, look: :papers, tell: :papers, jot: :papers, find: :papers, clean: :moved_papers, repair: :moved_papers, fill: :saved}.freeze

      def bench_screen(attempt) = BenchScreen.live(attempt, wall_ms)

      # Another procedure, other readings to write down.
      def part_of(data) = (data[:field] == "procedure") ? :chosen : PARTS.fetch(data[:kind].to_sym, :scene)

      def act_answer(attempt, data, problem)
        part = problem ? :refused : part_of(data)
        piece :"bench/_#{part}", screen: bench_screen(attempt), problem: problem, notice: nil, turned: data[:valve].to_s
      end
    end
  end
end
