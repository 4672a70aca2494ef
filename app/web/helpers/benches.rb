# frozen_string_literal: true

module Web
  module Helpers
    # The picture of a bench, and what of it an act changes.
    module Benches
      PARTS = {look: :papers, tell: :papers, jot: :papers, find: :papers, fill: :saved}.freeze

      def bench_screen(attempt) = BenchScreen.live(attempt, wall_ms)

      def act_answer(attempt, data, problem)
        part = problem ? :refused : PARTS.fetch(data[:kind].to_sym, :scene)
        piece :"bench/_#{part}", screen: bench_screen(attempt), problem: problem
      end
    end
  end
end
