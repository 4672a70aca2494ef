# frozen_string_literal: true

module Web
  # Every bench of a room at a glance, from what is kept with each attempt.
  class RoomView
    CONNECTED_MS = 8_000
    STUCK_MS = 180_000
    Tile =
      Struct.new(
        :attempt,
        :name,
        :station,
        :state,
        :connected,
        :step,
        :share,
        :left,
        :left_ms,
        :last,
        :alarm,
        :stuck,
        :needle_psid,
        :harmful,
        :damaged,
        # Benches of this person that are handed in, with their place.
        :over,
        keyword_init: true
      )

    def initialize(attempts, wall_ms)
      @attempts = attempts
      @wall_ms = wall_ms
    end

    # @return [Array<Tile>] one for everybody: the bench they are at, or the next or last one
    def tiles
      @tiles ||=
        @attempts
          .group_by(&:trainee_id)
          .values
          .map { |own| tile_or_damage(own.find(&:started?) || own.find(&:assigned?) || own.last, own) }
          .sort_by(&:name)
    end

    def numbers
      list = tiles
      {
        "at the bench" => list.count { |tile| tile.attempt.started? },
        "connected" => list.count(&:connected),
        "stuck" => list.count(&:stuck),
        "handed in" => @attempts.count(&:over?),
        "benches in all" => @attempts.size
      }
    end

    private

    # One bench whose rows cannot be read is one tile that says so.
    def tile_or_damage(attempt, own)
      return damage(attempt) unless attempt.sound?

      tile(attempt, own)
    rescue *Nurv::Bench::Snapshot::UNREADABLE, Nurv::Error => error
      warn "room: attempt #{attempt.id}: #{error.class}"
      damage(attempt)
    end

    def damage(attempt) =
      Tile.new(
        attempt: attempt,
        name: attempt.trainee_name.to_s,
        station: "Attempt #{attempt.id}",
        state: attempt.status,
        step: "What is saved of this bench cannot be read in full.",
        damaged: true,
        over: [],
        harmful: 0,
        share: 0
      )

    def tile(attempt, own)
      progress = attempt.progress
      named = attempt.procedures.find { |one| one.id == progress.procedure.to_s.to_sym }
      procedure = named || attempt.procedures.first
      running = attempt.started?
      Tile.new(
        attempt: attempt,
        name: attempt.trainee_name,
        station: "#{own.index(attempt) + 1} of #{own.size} · #{attempt.station.title}",
        state: attempt.status,
        connected: running && attempt.seen_wall_ms && @wall_ms - attempt.seen_wall_ms < CONNECTED_MS,
        step: step_words(progress, procedure, attempt),
        share: running ? progress.share(procedure) : 0,
        left_ms: running && attempt.left_ms(@wall_ms),
        last: last_words(progress, attempt.station.catalog),
        alarm: alarm(progress, attempt),
        harmful: progress.alarms.size,
        stuck: running && !attempt.paused? && idle_ms(progress, attempt) > STUCK_MS,
        needle_psid: attempt.needle_psid,
        over: own.select(&:over?).map { |one| [own.index(one) + 1, one.id] }
      )
    end

    def step_words(progress, procedure, attempt)
      return "handed in" if attempt.submitted?
      return StatusWords.named(attempt.status).downcase unless attempt.started?

      progress.next_step(procedure)&.title || "report"
    end

    def idle_ms(progress, attempt) = attempt.clock_ms(@wall_ms) - (progress.last ? progress.last[:at_ms] : 0)

    def last_words(progress, catalog)
      return unless progress.last

      action = Nurv::Bench::Action.new(progress.last)
      "#{Nurv::Units.clock(action.time_s)} #{ActWords.of(action, catalog)}"
    end

    # The newest harmful act, while it is fresh.
    def alarm(progress, attempt)
      at_ms, mistake = progress.alarms.last
      return unless at_ms && attempt.started? && attempt.clock_ms(@wall_ms) - at_ms < 120_000

      attempt.station.catalog.words.mistake(mistake)
    end
  end
end
