# frozen_string_literal: true

module Nurv
  module Hydraulics
    # What the water does from one moment on, if nobody touches anything.
    #
    # Steps are taken as the error allows, never cut to suit whoever asks: the same start gives the same steps,
    # however often and for whatever time it is asked. Only events that change the equations end a step early.
    class Trajectory
      # So many steps are taken as the error allows. A bench that asks for more is in some corner that nobody thought
      # of: it goes on with steps of this length at least, less true, and lives.
      MOST_STEPS = 60_000
      HURRIED_STEP_S = 0.05
      SHORTEST_STEP_S = 1.0e-6
      MOST_SWEPT = 0.03
      # While air still comes back, the longest steps by how much of it is to come, s by mL.
      COMING_BACK = [[0.05, 0.4], [0.005, 1.0]].freeze
      MOST_CUTS = 6
      # Pressures that move less than this over a step are at rest.
      QUIET_PSI = 2.0e-5

      # Where a trajectory stands between two of its steps: all that the next one follows from.
      #
      # state: State; dt_s: seconds that the next step would like to take; quiet: Boolean, nothing moved of late; taken:
      # steps up to here
      Running = Struct.new(:state, :dt_s, :quiet, :taken)

      # A stretch worked out from a moment that was known: its start, where it has come to, and the steps at hand.
      Leg = Struct.new(:start, :current, :dt, :quiet, :forgotten, :steps)
      private_constant :Leg

      # start: State that the stretch looked at last begins with; steps: Array<Step> of it, those at hand
      attr_reader :network, :start, :steps

      # @param network [Network]
      # @param start [State]
      # @param tightness [Float] see Integrator
      # @param longest_step_s [Float] cap, for refinement checks
      # @param runnings [Array<Running>] moments on the way that are known already, in time order: what comes after one
      #   goes on from there, and only who asks about what was before has that worked out from the one before it
      def initialize(network, start, tightness: 1.0, longest_step_s: Float::INFINITY, runnings: [])
        @network = network
        @closing = Closing.new(network)
        @integrator = Integrator.new(network, tightness: tightness)
        @longest_step_s = longest_step_s
        known = [Running.new(start.completed(network), 0.02, false, 0), *runnings]
        @legs = known.map { |one| Leg.new(one.state, one.state, one.dt_s, one.quiet, one.taken, []) }
        stand_on(@legs.size - 1)
      end

      # @param before_s [Float] not later than this
      # @return [Running, nil] the last step's beginning at hand by then; nil where that is the start
      def running(before_s)
        index = @steps.rindex { |step| step.time_s <= before_s }
        return unless index && @forgotten + index > 0

        step = @steps[index]
        Running.new(step.start, step.wish_s, step.quiet, @forgotten + index)
      end

      # @return [Integer] steps from the start on, whether at hand or not
      def taken = @forgotten + @steps.size

      # Takes natural steps until this time is covered.
      def extend_to(time_s)
        go_to(time_s)
        cover(time_s)
        self
      end

      # @return [Boolean] it has met its cap of steps and goes on with longer ones
      def hurried? = taken >= MOST_STEPS

      # Lets go of the steps that end before this time, for a bench that is looked at for long and worked little:
      # under a main that swings there are sixteen a second. What comes goes on to the last bit as it would have;
      # asked about what is gone, it answers with the earliest it still knows.
      def forget_before(time_s)
        gone = @steps.bsearch_index { |step| step.end_s >= time_s }.to_i
        @steps.shift(gone)
        @forgotten += gone
      end

      # @return [State] the state at exactly this time
      def state_at(time_s)
        # One act asks for it more than once.
        @asked = [time_s, work_out(time_s)] unless @asked&.first == time_s
        @asked.last
      end

      # As it is worked out anyhow: at the beginning of the step that this moment lies in. For what changes slowly.
      #
      # @return [State]
      def state_near(time_s)
        go_to(time_s)
        return @start if time_s <= @start.time_s

        cover(time_s)
        step_at(known(time_s)).start
      end

      # @return [Float] psid the needle shows
      def needle_at(time_s)
        go_to(time_s)
        return @start.needle_psid if time_s <= @start.time_s

        cover(time_s)
        time_s = known(time_s)
        step_at(time_s).needle_at(time_s)
      end

      # @return [Array<Float>] psi per node
      def pressures_at(time_s)
        go_to(time_s)
        return @start.pressures if time_s <= @start.time_s

        cover(time_s)
        step_at(time_s).pressures_at(time_s)
      end

      # @param edge_ids [Array<Symbol>]
      # @return [Hash{Symbol => Float}] mL/s of water through each edge; air that leaves a hose with it is left out
      # @param pressures [Array<Float>] at that time, where they are at hand
      def flows_at(time_s, edge_ids, pressures = nil)
        along(time_s, edge_ids, pressures) { |edge, there, state| @network.water_flow(edge, there, state) }
      end

      # Many moments in one go, for whoever looks along a stretch.
      #
      # @param times [Array<Float>] in time order
      # @yieldparam time_s [Float]
      # @yieldparam pressures [Array<Float>] psi per node
      # @yieldparam state [State] of what changes slowly; the network's controls stand as they do at that time
      def moments(times)
        go_to(times.first)
        cover(times.last)
        place = @steps.bsearch_index { |step| step.end_s >= times.first }.to_i
        times.each do |time_s|
          place += 1 while place < @steps.size - 1 && @steps[place].end_s < time_s
          step = @steps[place] if time_s > @start.time_s
          state = step ? step.start : @start
          @network.at(time_s, state)
          yield time_s, step ? step.pressures_at(time_s) : @start.pressures, state
        end
      end

      # @param edge_ids [Array<Symbol>]
      # @return [Hash{Symbol => Float}] mL/s of all that passes each edge, water and air
      def volumes_at(time_s, edge_ids) = along(time_s, edge_ids) { |edge, pressures, _| edge.flow(pressures) }

      # @return [Float] 0..1 how far the air inlet's poppet stands off its seat
      def air_inlet_at(time_s)
        go_to(time_s)
        return @start.air_inlet_fraction if time_s <= @start.time_s

        cover(time_s)
        time_s = known(time_s)
        step = step_at(time_s)
        Turning.poppet(step.start, time_s - step.time_s)
      end

      # Times worth drawing between two moments: both ends and every frame between them.
      def frame_times(from_s, to_s) = [from_s, *frames_between(from_s, to_s).map(&:time_s), to_s]

      # Where the needle stands at the times worth drawing.
      #
      # @return [Array<Array(Float, Float)>] simulated seconds and psid
      def needle_points(from_s, to_s) =
        [
          [from_s, needle_at(from_s)],
          *frames_between(from_s, to_s).map { |frame| [frame.time_s, frame.needle_psid] },
          [to_s, needle_at(to_s)]
        ]

      # First moment in [from, to] at which the block is true, to 10 ms; nil if never.
      def first_time(from_s, to_s)
        times = frame_times(from_s, to_s)
        return times.first if yield(times.first)

        times.each_cons(2) do |early, late|
          next unless yield(late)

          while late - early > 0.01
            middle = (early + late) / 2.0
            yield(middle) ? late = middle : early = middle
          end
          return late
        end
        nil
      end

      private

      # @return [Array<Step::Frame>] those between two moments, without either
      def frames_between(from_s, to_s)
        go_to(from_s)
        cover(to_s)
        frames = []
        index = @steps.bsearch_index { |step| step.end_s > from_s } || @steps.size
        while index < @steps.size && @steps[index].time_s < to_s
          @steps[index].frames.each { |frame| frames << frame if frame.time_s > from_s && frame.time_s < to_s }
          index += 1
        end
        frames
      end

      # As #state_at says it.
      def work_out(time_s)
        go_to(time_s)
        return @start if time_s <= @start.time_s

        cover(time_s)
        time_s = known(time_s)
        step = step_at(time_s)
        return step.finish if time_s >= step.end_s

        dt = time_s - step.time_s
        return step.start if dt <= 0.0

        @integrator.try(step.start, dt)
        @closing.close(tried(step.start, dt), step.quiet).finish
      end

      # Natural steps, from where one is, until this time is covered.
      def cover(time_s)
        advance while @current.time_s < time_s
      end

      # Goes on from the last moment known before this time.
      def go_to(time_s)
        return if @legs.size == 1

        index = @legs.rindex { |leg| leg.start.time_s <= time_s } || 0
        return if index == @leg

        @legs[@leg] = Leg.new(@start, @current, @dt, @quiet, @forgotten, @steps)
        stand_on(index)
      end

      # @param index [Integer] of a leg
      def stand_on(index)
        @leg = index
        @start, @current, @dt, @quiet, @forgotten, @steps = *@legs[index]
      end

      def along(time_s, edge_ids, pressures = nil)
        pressures ||= pressures_at(time_s)
        go_to(time_s)
        cover(time_s)
        state = (time_s <= @start.time_s) ? @start : step_at(time_s).start
        @network.at(time_s, state)
        edge_ids.to_h do |id|
          edge = @network.edge(id)
          [id, edge ? yield(edge, pressures, state) : 0.0]
        end
      end

      def known(time_s) = @forgotten.zero? ? time_s : [time_s, @steps.first.time_s].max

      def step_at(time_s)
        @steps.bsearch { |step| step.end_s >= time_s } || @steps.last
      end

      def advance
        limit = [@network.step_limit(@current.time_s, @current, @quiet), @longest_step_s].min
        dt = [@dt, limit].min
        shortest = hurried? ? HURRIED_STEP_S : SHORTEST_STEP_S
        dt = shortest if dt < shortest
        loop do
          error = @integrator.try(@current, dt)
          raise SolverError.new("Pressures ran away", @current) if error.nan?

          if error <= 1.0 || dt <= shortest
            accept(dt, error)
            return
          end
          dt = [dt * [0.9 / error**Scheme::ERROR_POWER, 0.2].max, shortest].max
        end
      end

      def accept(dt, error)
        step = tried(@current, dt).begun(@dt, @quiet)
        # Cut again until the moment is met: past a brim that empties, a hair of pressure is a lot of water.
        (hurried? ? 0 : MOST_CUTS).times do
          theta = Turning.earliest(@network, step)
          break unless theta && theta < 1.0

          dt = [dt * theta, SHORTEST_STEP_S].max
          @integrator.try(@current, dt)
          step = tried(@current, dt).begun(@dt, @quiet)
        end
        @closing.close(step, @quiet)
        @steps << step
        @quiet = dt >= 1.0 && moved(step) < QUIET_PSI
        @current = step.finish
        growth = (error > 1.0e-8) ? 0.9 / error**Scheme::ERROR_POWER : 3.0
        @dt = dt * growth.clamp(0.3, 3.0)
        # Air is swept out beside the step, not in it, so a step may not sweep much of it.
        swept = hose_air_lost(step)
        @dt = [@dt, dt * MOST_SWEPT / swept].min if swept > MOST_SWEPT / 3.0
        coming = @closing.coming_back_ml(@current)
        limit = COMING_BACK.find { |least, _| coming > least }
        @dt = [@dt, limit.last].min if limit
      end

      # @return [Step] as the integrator has just tried it, open at its end
      def tried(start, dt) = Step.new(start, dt, @integrator.stages, @integrator.pressures)

      def hose_air_lost(step)
        before = step.start.hose_air
        after = step.finish.hose_air
        return 0.0 if before.equal?(after)

        before.each_index.map { |hose| (before[hose] - after[hose]).abs }.max
      end

      def moved(step)
        step
          .start
          .pressures
          .each_index
          .map { |node| (step.finish.pressures[node] - step.start.pressures[node]).abs }
          .max
      end
    end
  end
end
