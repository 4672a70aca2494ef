# frozen_string_literal: true

# A tester who does what the coach says, act by act, and reads nothing else.
module Followed
  # @param acts [Array<Nurv::Bench::Action>] done before
  # @param late_s [Float] how long each act takes to be begun
  # @yieldparam advice [Nurv::Teaching::Coach::Advice] before each act
  # @return [Nurv::Bench::Log]
  def followed(variant, procedure, late_s: 0.2, acts: [], most: 9_000)
    coach = Nurv::Teaching::Coach.new(procedure)
    nothing = Nurv::Bench::Replay.new(variant, Nurv::Bench::Log.new)
    entries = Nurv::Bench::Replay.new(variant, Nurv::Bench::Log.new(acts)).entries.dup
    now = acts.empty? ? 5.0 : acts.last.time_s + 1.0
    most.times do
      advice = coach.advice(entries.empty? ? nothing : Nurv::Bench::Replay.recent(variant, entries), now)
      next now += advice.seconds.ceil(3) if advice.seconds
      break unless advice.fields

      yield(advice) if block_given?
      fields = {**advice.fields, at_ms: (now * 1000).round, id: "coached-#{entries.size}"}
      action = Nurv::Bench::Action.new(fields)
      before = entries.last&.span || nothing.first
      entries << Nurv::Bench::Replay::Entry.new(action, before, before.after(action))
      break if action.kind == :submit

      now += late_s
    end
    Nurv::Bench::Log.new(entries.map(&:action))
  end

  def marked(variant, log, procedure) = Nurv::Grading::Grader.grade(variant, log, procedure: procedure)
end
