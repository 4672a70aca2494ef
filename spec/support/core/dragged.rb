# frozen_string_literal: true

# Logs of buttons as a hand that is followed would have written them: each turn a ramp every so often, as long as it
# took, at a pace that is not quite even.
module Dragged
  EVERY_MS = 150

  # @param variant [Nurv::Stations::Variant]
  # @param log [Nurv::Bench::Log]
  # @return [Nurv::Bench::Log]
  def dragged(variant, log)
    replay = Nurv::Bench::Replay.new(variant, log)
    acts = replay.entries.each_with_index.flat_map do |entry, index|
      following = replay.entries[index + 1]&.action&.at_ms
      (entry.action.kind == :turn) ? ramps(entry, following) : [entry.action]
    end
    numbered = acts.each_with_index.map { |act, index| Nurv::Bench::Action.new({**act.to_h, id: "d#{index}"}) }
    Nurv::Bench::Log.new(numbered)
  end

  private

  # Another act may be done while a control is still on its way; the hand then has been quicker.
  def ramps(entry, following_ms)
    act = entry.action
    ramp = entry.span.state.controls[act.named(:valve)]
    took = ((ramp.end_s - ramp.start_s) * 1000).round
    took = [took, following_ms - act.at_ms].min if following_ms
    return [act] if took < Nurv::Bench::Stroke::OVER_MS.min

    times = [*(0...took).step(EVERY_MS), took]
    times.pop(2).then { |last| times << last.last } if times.size > 2 && times[-1] - times[-2] < 30
    times.each_cons(2).map do |from, to|
      reached = ramp.from + (ramp.to - ramp.from) * eased(to / took.to_f)
      to_there = (to == times.last) ? act[:to] : reached.round(3)
      Nurv::Bench::Action.new(kind: "turn", valve: act[:valve], to: to_there, over: to - from, at_ms: act.at_ms + from)
    end
  end

  # Neither a hand nor its pace is quite even.
  def eased(share) = share + Math.sin(share * 2.0 * Math::PI) * 0.03
end
