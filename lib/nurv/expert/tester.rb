# frozen_string_literal: true

module Nurv
  module Expert
    # Carries a procedure's own data out on the simulator, as a tester who makes no mistake: what is read, what is
    # concluded, which steps a station calls for. One use: #run.
    class Tester
      include Eyes

      TICK_S = 0.5
      # No step of any procedure takes longer.
      LONGEST_STEP_S = 240.0
      # So often a tester looks, two seconds apart, whether the pressure is off.
      RELIEF_LOOKS = 30

      # @param variant [Stations::Variant]
      # @param procedure [Procedures::Procedure]
      def initialize(variant, procedure)
        @variant = variant
        @procedure = procedure
        @actions = []
        @round = Round.fresh
        @stopped = false
        @moments = {}
        @time_s = 5.0
        @span = first_span
        @round.notice(:water_was_off) if span.state.closed?(variant.station.assembly.shutoff_valves.last)
        @found = variant.station.assembly.shutoff_valves.to_h { |valve| [valve, span.state.rest_position(valve)] }
      end

      # @param act [Hash] of a step's `do`
      # @return [Symbol, nil] what it says to do
      def self.verb(act) = VERBS.keys.find { |name| act.key?(name) }

      # Tests, mends and tests again where that is called for, ends the visit, and writes the report.
      #
      # @return [Run]
      def run
        hang_tags if variant.station.tags_to_hang?
        work_through(procedure.steps.reject(&:closing?))
        outcome = Outcome.new(procedure, variant.station, @round, @stopped)
        mending = outcome.repair_called_for? ? outcome.ways_to_mend : []
        again = mend_and_test_again(mending) if mending.any?
        work_through(procedure.steps.select(&:closing?))
        caps("on", nil)
        write_report(Report.new(outcome, mending, again, found))
        Run.new(
          outcome: outcome,
          log: Bench::Log.new(@actions),
          moments: @moments,
          mending: mending,
          again: again,
          end_s: @time_s
        )
      end

      private

      attr_reader :variant, :procedure, :span

      # The bench before anything is done.
      def first_span = Bench::Span.new(variant, Bench::Opening.new(variant).state)

      # Put back as it was found, so that is how it is left as well.
      def found
        open = variant.station.assembly.shutoff_valves.map { |valve| @found.fetch(valve).positive? }
        {line_psi: variant.pressure_psi, standing: Reports::FieldReport.standing(open), time_s: @time_s}
      end

      # Numbered from the inlet, which the arrow tells.
      def hang_tags
        act(:look, at: "arrow")
        pass(3.0)
        Bench::Tags.all(variant.station).each do |control|
          act(:tag, at: control, as: control)
          pass(1.5)
        end
      end

      # Its face on, its light where that is needed, and nothing in its memories but what is put there today.
      def ready_kit
        switch_on
        forget(true, nil)
      end

      # What somebody before has left there.
      def forget(_all, _act)
        act(:forget) if span.state.memories.values.any? { |_, taken_s| taken_s.nil? }
      end

      def switch_on
        if %i[off standby].include?(span.face.at(@time_s))
          act(:power, to: "on")
          pass(Bench::Face::WAKES_S + 0.5)
        end
        return if span.face.shows?(@time_s)

        act(:light, to: "on")
        pass(1.0)
      end

      # A button pressed now and then.
      def keep_awake
        switch_on
        act(:capture)
        act(:release)
      end

      def work_through(list)
        list.each do |step|
          break if @stopped

          carry_out(step) if step.called_for?(@round.flags)
        end
      end

      # All off, water off, parts mended, and the test again from the flush on.
      #
      # @return [Round] the second test
      def mend_and_test_again(mending)
        procedure.steps.find(&:takes_off?).acts.each { |act| perform(act) }
        turn({shutoff_valve_2: 0.0, shutoff_valve_1: 0.0}, {speed: "slow"})
        pass(6.0)
        relieved(mending) do
          mending.each do |part, way|
            act(:repair, component: part, action: way)
            pass(5.0)
          end
        end
        turn({shutoff_valve_1: 1.0}, {speed: "slow"})
        pass(10.0)
        first, @round = @round, Round.fresh
        work_through(procedure.steps.reject { |step| step.opening? || step.closing? })
        again, @round = @round, first
        again
      end

      # With the pressure let off at the test cocks, and downstream where the outlet shutoff is opened up.
      def relieved(mending)
        assembly = variant.station.assembly
        nodes = assembly.body_nodes
        outlets = assembly.test_cocks.values.select { |cock| nodes.include?(cock.node) }.map(&:id)
        if mending.any? { |part, _| part.to_sym == assembly.shutoff_valves.last }
          nodes += [:downstream]
          outlets += [:downstream_tap]
        end
        turn(outlets.to_h { |id| [id, 1.0] }, {})
        RELIEF_LOOKS.times do
          pass(2.0)
          break if nodes.all? { |node| span.pressure_at(@time_s, node) <= Bench::Mending::RELIEVED_PSI / 2.0 }
        end
        yield
        turn(outlets.to_h { |id| [id, 0.0] }, {})
        pass(1.0)
      end

      def carry_out(step)
        @round.done(step.id)
        @step = step
        @moments[step.id] = @time_s
        keep_awake if span.face.sleeps_s - @time_s < LONGEST_STEP_S
        caps("off", nil) if step.flushes?
        step.acts.each { |act| perform(act) }
        clear_blocked if step.flushes?
      end

      def perform(act)
        return unless wanted?(act)

        verb = Tester.verb(act) or
          raise DataError.new(procedure.id.to_s, [["do", Remark.new(:no_verb, typed: act.inspect)]])

        VERBS.fetch(verb).bind_call(self, act[verb], act)
      end

      def wanted?(act)
        return false if act[:if_flag] && !@round.flags.include?(act[:if_flag].to_sym)
        return false if act[:unless_flag] && @round.flags.include?(act[:unless_flag].to_sym)
        return false if act[:if_event] && !@event
        return false if act[:unless_event] && @event
        return false if act[:unless_open] && span.state.open?(act[:unless_open].to_sym)

        return false if act[:unless]&.all? { |name, value| sees?(name, value, act[:unless]) }

        act[:if].nil? ||
          act[:if].all? { |name, value| %i[by_psid at_line_psi lines].include?(name) || sees?(name, value, act[:if]) }
      end

      def act(kind, **fields)
        action =
          Bench::Action.new(
            kind: kind.to_s,
            at_ms: (@time_s * 1000).round,
            id: "expert-#{@actions.size + 1}",
            **fields
          )
        @span = span.after(action)
        @actions << action
      end

      # --- verbs

      def tell(topic, _act)
        variant.station.site.people.each_value do |person|
          act(:tell, person: person.id.to_s, topic: topic) if person.topics.include?(topic)
        end
        pass(2.0)
        note_finding(:permission)
      end

      def look(things, _act)
        things.each do |thing|
          ready_kit if thing == "gauge_zero" && span.digital?
          act(:look, at: thing)
          pass(1.0)
          clean_and_look_again if span.state.looked.last == :plate_corroded
          note_finding(thing.to_sym)
        end
      end

      def clean_and_look_again
        act(:clean, at: "plate")
        pass(2.0)
        act(:look, at: "plate")
        pass(1.0)
      end

      # Writes down what is wrong there, once; stops if it forbids the test.
      def note_finding(thing)
        finding = variant.station.finding_at(thing)
        return if finding.nil?

        unless span.state.findings.include?(thing.to_s)
          act(:find, finding: thing.to_s, as: finding.id.to_s)
          pass(1.0)
        end
        @stopped ||= finding.stops?
      end

      def watch(thing, _act) = act(:watch, at: thing)

      def turn(settings, options)
        settings.each do |valve, position|
          next if set_already?(valve, position)

          act(:turn, valve: valve.to_s, to: position, speed: options.fetch(:speed, "normal"))
          lean_on(valve) if position.zero?
        end
      end

      # What weeps is tightened before anything is concluded from it.
      def lean_on(valve)
        return unless variant.station.weeping.include?(valve)

        pass(1.0)
        act(:tighten, valve: valve.to_s)
      end

      # @return [Boolean] nothing need be done for it
      def set_already?(valve, position) = (span.state.rest_position(valve) - position).abs < 1.0e-6

      def connect(ends, _act)
        ends.each do |hose, place|
          fields =
            (
              if hose.to_s.end_with?("_near")
                {hose: hose.to_s.delete_suffix("_near"), end: "near"}
              else
                {hose: hose.to_s}
              end
            )
          turn_round(fields[:hose])
          ready_cock(place)
          act(:connect, **fields, to: place)
          pass(1.0)
        end
      end

      # Its cap off, and an adapter on where a hose needs one.
      def ready_cock(place)
        cock = place.to_sym
        cap(cock, "off") if span.state.capped.include?(cock)
        return if !variant.station.adapters? || span.state.adapted.include?(cock)
        return unless variant.station.assembly.test_cocks.key?(cock)

        act(:adapt, at: cock.to_s, to: "on")
        pass(1.0)
      end

      def cap(cock, to)
        act(:cap, at: cock.to_s, to: to)
        pass(1.0)
      end

      # The strainer belongs at the assembly's end.
      def turn_round(hose)
        return unless span.state.turned_hoses.include?(hose.to_sym) && span.state.hose_ends[hose.to_sym] == :free

        act(:swap_ends, hose: hose)
        pass(1.0)
      end

      def disconnect(_all, _act)
        state = span.state
        variant.station.kit.hoses.each_value do |hose|
          near = hose.near
          act(:disconnect, hose: hose.id.to_s) unless state.hose_ends[hose.id] == :free
          act(:disconnect, hose: hose.id.to_s, end: "near") unless [nil, :kit].include?(state.hose_ends[near])
        end
      end

      def close(group, _act)
        names = (group == "test_cocks") ? variant.station.assembly.test_cocks.keys : variant.station.kit.valves.keys
        names.each { |name| turn({name => 0.0}, {}) }
        pass(0.5)
      end

      def fit(fittings, _act)
        fittings.each do |fitting, cock|
          ready_cock(cock)
          act(:fit, fitting: fitting.to_s, to: cock)
          pass(2.0)
        end
      end

      def unfit(fittings, _act)
        (Array(fittings).map(&:to_sym) & span.state.fittings.keys).each do |fitting|
          turn({tee_needle: 0.0}, {}) if fitting == :bleed_off_tee
          act(:unfit, fitting: fitting.to_s)
          pass(1.0)
        end
      end

      def level(name, _act)
        height = variant.station.assembly.levels.fetch(name.to_sym).elevation_in
        act(:level, to: height) unless (span.state.gauge_in - height).abs < 0.01
        pass(1.0)
      end

      def canopy(place, _act)
        act(:canopy, to: place) unless span.state.canopy == place.to_sym
        pass(1.0)
      end

      # Opens a valve bit by bit until an outlet no longer drips.
      def adjust(valve, options)
        port = options.fetch(:until_dry).to_sym
        turns = span.state.rest_position(valve.to_sym)
        40.times do
          pass(6.0)
          return unless Eyes.drips?(span, port, @time_s)

          # The more it runs, the further one turns.
          turns = (turns + ((span.flow_at(@time_s, port) > 1.0) ? 0.15 : 0.02)).round(3)
          return if turns > Equipment::Kit::TURNS

          turn({valve.to_sym => turns}, {})
        end
      end

      # Shutoffs back to how they were found, the inlet first.
      def restore(_all, options)
        valves = variant.station.assembly.shutoff_valves
        valves &= [options[:only].to_sym] if options[:only]
        valves.each do |valve|
          turn({valve => @found.fetch(valve)}, {speed: options.fetch(:speed, "slow")})
          pass(6.0)
        end
      end

      # Any act of a bench, as a log has it.
      def plain(fields, _act) = act(fields.fetch(:kind), **fields.except(:kind))

      def wait(seconds, _act)
        pass(seconds)
        notice_weak_jets if @step.flushes?
      end

      # Clears what was noticed, and flushes it once more: through a blocked cock nothing can be read.
      def clear_blocked
        variant.station.assembly.test_cocks.each_key do |cock|
          next unless @round.flags.include?(:"#{cock}_blocked")

          act(:clean, at: cock.to_s)
          pass(3.0)
          turn({cock => 1.0}, {})
          pass(2.0)
          turn({cock => 0.0}, {})
          pass(1.0)
        end
      end

      # Of all test cocks; adapters come off before caps go on.
      def caps(to, _act)
        return unless variant.station.capped?

        adapters_off if to == "on"
        wanted = span.state.capped
        wanted = variant.station.assembly.test_cocks.keys - wanted if to == "on"
        wanted.each { |cock| cap(cock, to) }
      end

      def adapters_off
        span.state.adapted.each { |cock| act(:adapt, at: cock.to_s, to: "off") }
        pass(1.0)
      end

      # A test cock that runs weakly when it is flushed is partly blocked.
      def notice_weak_jets
        variant.station.assembly.test_cocks.each_key do |cock|
          next unless span.state.rest_position(cock) >= 1.0 && span.state.on_test_cock(cock).nil?

          @round.notice(:"#{cock}_blocked") if span.flow_at(@time_s, cock) < Bench::Flow::LEAST[:jet]
        end
      end

      def until_seen(conditions, act)
        @event = false
        start = @time_s
        @waiting_since = start
        port = conditions[:discharging]&.to_sym
        while @time_s < start + act.fetch(:within)
          if port && (moment = discharge_within(port, TICK_S))
            @event = true
            @time_s = (moment * 1000).ceil / 1000.0
            return
          end
          pass(TICK_S)
          return if conditions.except(:discharging).any? { |name, value| sees?(name, value, conditions) }
        end
      end

      # A needle against its stop says nothing that could be written down.
      def jot(item, _act)
        return if span.needle_at(@time_s) >= PEGGED_PSID

        switch_on unless span.face.shows?(@time_s)

        id = item.to_sym
        value = Units.number(span.shown_at(@time_s))
        @round.values[id] = value
        act(:jot, item: item, value: value)
        pass(1.0)
      end

      # Line pressure, off the plain gauge.
      def jot_line(item, _act)
        value = span.pressure_at(@time_s, :line_gauge).round.to_s
        @round.values[item.to_sym] = value
        act(:jot, item: item, value: value)
        pass(1.0)
      end

      def choose(choices, _act)
        choices.each { |item, words| @round.values[item] = words }
      end

      def flag(name, _act) = @round.notice(name)

      def mark(name, _act) = @round.marks[name.to_sym] = span.needle_at(@time_s)

      def pass(seconds) = @time_s = (@time_s + seconds).round(3)

      # --- paper

      def write_report(report)
        report.fields.each { |field, value| act(:fill, field: field.to_s, value: value) }
        pass(1.0)
        act(:submit)
      end

      VERBS = {
        tell: instance_method(:tell),
        look: instance_method(:look),
        watch: instance_method(:watch),
        turn: instance_method(:turn),
        connect: instance_method(:connect),
        disconnect: instance_method(:disconnect),
        close: instance_method(:close),
        wait: instance_method(:wait),
        until: instance_method(:until_seen),
        jot: instance_method(:jot),
        choose: instance_method(:choose),
        flag: instance_method(:flag),
        mark: instance_method(:mark),
        fit: instance_method(:fit),
        unfit: instance_method(:unfit),
        level: instance_method(:level),
        canopy: instance_method(:canopy),
        caps: instance_method(:caps),
        forget: instance_method(:forget),
        adjust: instance_method(:adjust),
        restore: instance_method(:restore),
        jot_line: instance_method(:jot_line),
        act: instance_method(:plain)
      }.freeze
      private_constant :VERBS
    end
  end
end
