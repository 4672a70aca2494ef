# frozen_string_literal: true

# The simulated clock of a bench against the wall's: the only place that knows how a practice bench rests while
# nobody is at it, how an exam pauses, how time is skipped and how it runs out. A frozen value; every change is
# another one.
#
# All times are whole milliseconds; `wall_ms` since the epoch, `sim` since the bench was begun.
class BenchClock
  # A practice bench stands still so long after its page was last heard of.
  IDLE_MS = 20_000
  # An act lands when its tester saw the bench that way, but no earlier than this before the server's clock. In an
  # exam no more than an answer takes on its way, so that nothing seen to happen can be undone; at practice a slow
  # line costs nobody a bleed.
  LATEST_MS = {exam: 800, practice: 3_000}.freeze

  # The pace of life, in percent; a classroom's display may go slower.
  LIFE = 100

  FIELDS = %i[anchor_wall_ms anchor_sim_ms seen_wall_ms paused_wall_ms skipped_ms extra_ms pace_percent].freeze
  attr_reader(*FIELDS, :limit_ms)

  # @param exam [Boolean] under exam conditions: it neither rests nor waits
  # @param rests [Boolean] it stands still while nobody is there
  # @param limit_ms [Integer, nil] time that is given
  def initialize(
    exam:,
    rests:,
    limit_ms: nil,
    anchor_wall_ms: nil,
    anchor_sim_ms: 0,
    seen_wall_ms: nil,
    paused_wall_ms: nil,
    skipped_ms: 0,
    extra_ms: 0,
    pace_percent: LIFE
  )
    @exam = exam
    @rests = rests
    @limit_ms = limit_ms
    @anchor_wall_ms = anchor_wall_ms
    @anchor_sim_ms = anchor_sim_ms
    @seen_wall_ms = seen_wall_ms
    @paused_wall_ms = paused_wall_ms
    @skipped_ms = skipped_ms
    @extra_ms = extra_ms
    @pace_percent = pace_percent
    freeze
  end

  def begun? = !anchor_wall_ms.nil?

  def paused? = !paused_wall_ms.nil?

  # @return [Boolean] nobody has been there for a while, so it stands still
  def idle?(wall_ms) = @rests && begun? && !paused? && wall_ms - (seen_wall_ms || anchor_wall_ms) > IDLE_MS

  # @return [Integer] simulated time, ms
  def at(wall_ms)
    return anchor_sim_ms unless begun?

    gone = (standing(wall_ms) - anchor_wall_ms) * pace_percent / LIFE
    [anchor_sim_ms + gone, anchor_sim_ms, 0].max
  end

  # @return [BenchClock] begun now
  def begin(wall_ms) = with(anchor_wall_ms: wall_ms, anchor_sim_ms: 0, seen_wall_ms: wall_ms)

  # Somebody is there: time goes on from where it stood.
  def seen(wall_ms)
    return self if paused?
    return with(seen_wall_ms: [seen_wall_ms.to_i, wall_ms].max) unless idle?(wall_ms)

    with(anchor_wall_ms: wall_ms, anchor_sim_ms: at(wall_ms), seen_wall_ms: wall_ms)
  end

  def pause(wall_ms) = paused? ? self : with(paused_wall_ms: wall_ms)

  def resume(wall_ms)
    return self unless paused?

    stood = wall_ms - paused_wall_ms
    with(
      anchor_wall_ms: anchor_wall_ms && anchor_wall_ms + stood,
      seen_wall_ms: seen_wall_ms && seen_wall_ms + stood,
      paused_wall_ms: nil
    )
  end

  # Waiting left out: simulated time goes on, time used does not.
  def skip(milliseconds) = with(anchor_sim_ms: anchor_sim_ms + milliseconds, skipped_ms: skipped_ms + milliseconds)

  # The water at another pace from now on, or from where it stands still.
  #
  # @param percent [Integer] of life's
  def at_pace(percent, wall_ms)
    return self if percent == pace_percent

    with(anchor_wall_ms: paused_wall_ms || wall_ms, anchor_sim_ms: at(wall_ms), pace_percent: percent)
  end

  def extend(milliseconds) = with(extra_ms: extra_ms + milliseconds)

  # Time the tester has used, without what was skipped, ms.
  def used(wall_ms) = at(wall_ms) - skipped_ms

  # @return [Integer, nil] ms the tester still has; nil without a limit
  def left(wall_ms) = limit_ms && [limit_ms + extra_ms - used(wall_ms), 0].max

  def run_out?(wall_ms) = begun? && left(wall_ms) == 0

  # Simulated time at which work ends if it is ended now: no later than the time that was given, ms.
  def ends(wall_ms) = run_out?(wall_ms) ? [at(wall_ms), limit_ms + extra_ms + skipped_ms].min : at(wall_ms)

  # When an act lands that its tester did at what they saw.
  #
  # @param seen_ms [Integer] simulated time on the tester's page
  # @param from_ms [Integer] simulated time of the act before; none lands earlier
  def lands(seen_ms, wall_ms, from_ms:)
    now = at(wall_ms)
    earliest = [from_ms, now - LATEST_MS.fetch(@exam ? :exam : :practice)].max
    seen_ms.clamp(earliest, [now, earliest].max)
  end

  # @param other [BenchClock] as it was
  # @return [Hash] what of it is otherwise, for a row
  def changes_from(other) = to_h.reject { |field, value| other.public_send(field) == value }

  def to_h = FIELDS.to_h { |name| [name, public_send(name)] }

  private

  def with(**changes) = self.class.new(exam: @exam, rests: @rests, limit_ms: limit_ms, **to_h, **changes)

  # The wall time for which it stands: not beyond a pause, nor long after anybody was seen.
  def standing(wall_ms)
    latest = paused_wall_ms || wall_ms
    @rests ? [latest, (seen_wall_ms || anchor_wall_ms) + IDLE_MS].min : latest
  end
end
