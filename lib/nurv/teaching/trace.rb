# frozen_string_literal: true

module Nurv
  module Teaching
    # The needle of a whole attempt as a line, with as few points as tell it to a fiftieth of a psid; and the correct
    # tester's of the same bench beside it, its time stretched so that each step lies over the tester's own.
    class Trace
      # psid that the line may be off. Source: a tenth of the way between two marks of a face.
      WITHIN_PSID = 0.02

      # @param replay [Bench::Replay]
      # @param from_s, until_s [Float] simulated seconds; the whole attempt up to its last act without them
      # @return [Array<Array(Integer, Float)>] ms and psid, in time order
      def self.points(replay, from_s: 0.0, until_s: replay.end_s) = thinned(raw(replay, from_s, until_s))

      # @param replay [Bench::Replay] the tester's
      # @param procedure [Procedures::Procedure] the one followed
      # @param truth [Expert::Truth] of the same bench by it
      # @return [Array<Array(Integer, Float)>] the correct tester's needle in the tester's time
      def self.expert(replay, procedure, truth)
        chronicle = Grading::Chronicle.new(replay, procedure)
        steps = truth.steps.map { |id| procedure.step(id) }
        recognition = Grading::Recognition.new(chronicle, steps)
        pairs = steps.filter_map do |step|
          found = recognition.tries(step).first or next
          recognition.take(found)
          [truth.run.moments.fetch(step.id), found.from_s]
        end
        own = Bench::Replay.new(replay.variant, truth.run.log)
        stretched(points(own), knots(pairs, truth.run.end_s, replay.end_s))
      end

      # @return [Array<Array(Float, Integer)>] as often as anything moved
      def self.raw(replay, from_s, until_s)
        spans = replay.spans
        spans.each_with_index.flat_map do |span, index|
          from = [index.zero? ? 0.0 : span.from_s, from_s].max
          to = [spans[index + 1]&.from_s || until_s, until_s].min
          # Acts on paper share their water: what one has told the next need not tell again.
          (to - from < 0.001) ? [] : run(span, from, to).map { |time, psid| [(time * 1000).round, psid] }
        end
      end

      def self.run(span, from, to) = span.trajectory.needle_points([from, span.from_s].max, to)

      # Douglas and Peucker, by hand on a stack: a test may have tens of thousands of points.
      def self.thinned(points)
        return points if points.size < 3

        kept = Array.new(points.size, false)
        kept[0] = kept[-1] = true
        stack = [[0, points.size - 1]]
        until stack.empty?
          first, last = stack.pop
          far = farthest(points, first, last) or next
          kept[far] = true
          stack << [first, far] << [far, last]
        end
        points.each_index.select { |index| kept[index] }.map { |index| [points[index][0], points[index][1].round(2)] }
      end

      def self.farthest(points, first, last)
        (from_ms, from), (to_ms, to) = points[first], points[last]
        slope = (to_ms == from_ms) ? 0.0 : (to - from) / (to_ms - from_ms).to_f
        worst, at = WITHIN_PSID, nil
        (first + 1...last).each do |index|
          ms, psid = points[index]
          off = (psid - from - slope * (ms - from_ms)).abs
          worst, at = off, index if off > worst
        end
        at
      end

      # Moments that lie over one another, only forwards in both.
      def self.knots(pairs, expert_end_s, own_end_s)
        [[0.0, 0.0], *pairs.sort, [expert_end_s, own_end_s]].each_with_object([]) do |(theirs, own), list|
          list << [theirs, own] if list.empty? || (theirs > list.last[0] && own > list.last[1])
        end
      end

      def self.stretched(points, knots)
        # Handed in before any time went by.
        return [] if knots.size < 2

        points.map do |ms, psid|
          right = knots.bsearch_index { |theirs, _| theirs * 1000.0 >= ms } || (knots.size - 1)
          right = 1 if right.zero?
          (t0, o0), (t1, o1) = knots[right - 1], knots[right]
          share = (ms / 1000.0 - t0) / (t1 - t0)
          [((o0 + (o1 - o0) * share) * 1000).round, psid]
        end
      end
      private_class_method :raw, :run, :thinned, :farthest, :knots, :stretched
    end
  end
end
