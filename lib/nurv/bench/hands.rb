# frozen_string_literal: true

module Nurv
  module Bench
    # What an act does to the bench. Pure: a state and an act in, the next state out, or a refusal with its reason.
    class Hands
      include Mending
      include Instructing
      include Pressing
      include Readying

      # Seconds for a usual turn of each sort of control, over any travel.
      TRAVEL_S = {shutoff_valve: 1.0, test_cock: 0.6, needle_valve: 0.4, downstream_tap: 0.6}.freeze
      # A hose taken off a test cock loses this share of its water.
      DRAINED = 0.5
      FLUSH_S = 1.0
      # The gauge is held no farther below or above the pipe, inches.
      GAUGE_REACH_IN = 40
      # Longest note and longest entry of a report, characters.
      NOTE_LENGTH = 60
      ENTRY_LENGTH = 500
      # Name of a step of an authority's own, and how many there may be.
      DECLARED_LENGTH = 90
      MOST_DECLARED = 20
      FITTINGS = %i[sight_tube bleed_off_tee line_gauge].freeze

      # @param variant [Stations::Variant]
      # @param span [Span] the bench from its last act on
      # @param new [Boolean] the act is done now, and not done again from a log
      def initialize(variant, span, new: true)
        @new = new
        @variant = variant
        @station = variant.station
        @span = span
        @state = span.state
      end

      # @param action [Action]
      # @return [State]
      # @raise [RefusedAction]
      def apply(action)
        raise RefusedAction.new(:before_last_act) if action.time_s < @state.time_s - 0.0005
        raise RefusedAction.new(:handed_in) if @state.submitted

        @time_s = action.time_s
        HANDLERS.fetch(action.kind).bind_call(self, action).with(time_s: @time_s)
      end

      private

      def water_now = @span.water_at(@time_s)

      # --- hands

      def turn(action)
        valve = action.named(:valve)
        sort = sort_of(valve)
        to = action[:to]
        limit = (sort == :needle_valve) ? Equipment::Kit::TURNS : 1.0
        unless to.is_a?(Numeric) && to.between?(0, limit)
          raise RefusedAction.new(:turned_too_far, control: valve, turns: limit, typed: to.inspect)
        end

        took = seconds_of(action, sort)
        from = @state.position(valve, @time_s)
        if (@state.rest_position(valve) - to).abs < 1.0e-6
          raise RefusedAction.new(:stands_there, control: valve)
        end

        ramp = Hydraulics::Ramp.new(from, to.to_f, @time_s, @time_s + took)
        turned = @state.with(
          water: water_now,
          controls: @state.controls.merge(valve => ramp).freeze,
          tightened: (@state.tightened - [valve]).freeze
        )
        (sort == :test_cock) ? ran(turned, valve, from, to) : turned
      end

      # How long a turn takes: as long as the hand took that was followed, or as its kind of control does.
      def seconds_of(action, sort)
        if action[:over]
          return action[:over] / 1000.0 if action[:over].is_a?(Integer) && Stroke::OVER_MS.cover?(action[:over])

          raise RefusedAction.new(:turned_over, least: Stroke::OVER_MS.min, most: Stroke::OVER_MS.max)
        end

        speed = Action::SPEEDS[(action[:speed] || "normal").to_s.to_sym]
        raise RefusedAction.new(:speed_unknown, typed: action[:speed].inspect) unless speed

        TRAVEL_S.fetch(sort) * speed
      end

      # A test cock flushes what is in it while it runs free; opened into a hose unflushed, that goes into the hose.
      def ran(state, cock, from, to)
        on_it = state.hose_ends.key(cock)
        if to.zero?
          since = state.running[cock]
          flushed = (since && @time_s - since >= FLUSH_S) ? state.flushed | [cock] : state.flushed
          state.with(flushed: flushed.freeze, running: state.running.except(cock).freeze)
        elsif from.zero? && state.on_test_cock(cock).nil? && !state.capped.include?(cock)
          state.with(running: state.running.merge(cock => @time_s).freeze)
        elsif on_it && @station.debris.include?(cock) && !state.flushed.include?(cock)
          hose = on_it.to_s.delete_suffix("_near").to_sym
          # A strainer at this end holds the dirt back.
          state.turned_hoses.include?(hose) ? state.with(clogged: (state.clogged | [hose]).freeze) : state
        else
          state
        end
      end

      def sort_of(valve)
        return :shutoff_valve if @station.assembly.shutoff_valves.include?(valve)
        return :test_cock if @station.assembly.test_cocks.key?(valve)
        return :needle_valve if @station.kit.valves.key?(valve)
        return :needle_valve if valve == :tee_needle && @state.fittings.key?(:bleed_off_tee)
        return valve if valve == :downstream_tap

        raise RefusedAction.new(:no_such_valve, typed: valve)
      end

      def connect(action)
        hose = hose_of(action)
        key = (action.named(:end) == :near) ? near_key(hose) : hose.id
        cock = action.named(:to)
        return put_back(hose, key) if cock == :kit && key != hose.id

        check_free(cock, hose: hose, key: key)
        reconnect(hose, key, cock)
      end

      def disconnect(action)
        hose = hose_of(action)
        key = (action.named(:end) == :near) ? near_key(hose) : hose.id
        resting = (key == hose.id) ? :free : :kit
        raise RefusedAction.new(:hose_on_nothing, hose: hose.id) if @state.hose_ends[key] == resting

        # Off the assembly, what got into it is shaken out.
        reconnect(hose, key, resting).with(clogged: (@state.clogged - [hose.id]).freeze)
      end

      # Turns a hose round, end for end.
      def swap_ends(action)
        hose = hose_of(action)
        unless @state.hose_ends[hose.id] == :free
          raise RefusedAction.new(:hose_on_assembly, hose: hose.id)
        end

        turned =
          @state.turned_hoses.include?(hose.id) ? @state.turned_hoses - [hose.id] : @state.turned_hoses + [hose.id]
        @state.with(water: water_now, turned_hoses: turned.freeze)
      end

      def put_back(hose, key)
        raise RefusedAction.new(:hose_on_kit, hose: hose.id) if @state.hose_ends[key] == :kit

        reconnect(hose, key, :kit)
      end

      def hose_of(action)
        @station
          .kit
          .hoses
          .fetch(action.named(:hose)) { raise RefusedAction.new(:no_such_hose, typed: action[:hose]) }
      end

      def near_key(hose)
        raise RefusedAction.new(:hose_fixed, hose: hose.id) unless hose.detachable

        hose.near
      end

      def check_free(cock, hose: nil, key: nil)
        unless @station.assembly.test_cocks.key?(cock)
          raise RefusedAction.new(:no_such_cock, control: cock)
        end

        ready!(cock)
        taken = @state.hose_ends.find { |name, place| place == cock && name != key }&.first
        if taken
          raise RefusedAction.new(:cock_has_hose, control: cock, hose: taken)
        end
        if key && @state.hose_ends[key] == cock
          raise RefusedAction.new(:hose_there_already, control: cock, hose: hose.id)
        end
        blocking = @state.fittings.key(cock)
        if blocking && blocking != :bleed_off_tee
          raise RefusedAction.new(:cock_has_fitting, control: cock, fitting: blocking)
        end
      end

      # A hose that comes off a test cock runs partly empty; one that goes on keeps what it holds.
      def reconnect(hose, key, place)
        water = water_now
        if @state.hose_ends[key].to_s.start_with?("test_cock")
          position = @station.kit.hoses.keys.index(hose.id)
          air = water.hose_air.dup
          # What has run out behind a gap is a part of that.
          air[position] = [air[position], DRAINED - water.hose_gap[position]].max
          water = water.with(hose_air: air.freeze)
        end
        @state.with(water: water, hose_ends: @state.hose_ends.merge(key => place).freeze)
      end

      def fit(action)
        fitting = action.named(:fitting)
        raise RefusedAction.new(:no_such_fitting, typed: fitting) unless FITTINGS.include?(fitting)
        if @state.fittings.key?(fitting)
          raise RefusedAction.new(:fitting_elsewhere, fitting: fitting, control: @state.fittings[fitting])
        end

        cock = action.named(:to)
        check_free(cock)
        if @state.fittings.value?(cock)
          raise RefusedAction.new(:fitting_there_already, control: cock, fitting: @state.fittings.key(cock))
        end

        @state.with(water: water_now, fittings: @state.fittings.merge(fitting => cock).freeze)
      end

      def unfit(action)
        fitting = action.named(:fitting)
        cock = @state.fittings[fitting]
        raise RefusedAction.new(:fitting_on_nothing, fitting: fitting) unless cock
        if @state.hose_ends.value?(cock)
          raise RefusedAction.new(:hose_on_tee, hose: @state.hose_ends.key(cock))
        end

        @state.with(water: water_now, fittings: @state.fittings.except(fitting).freeze)
      end

      def level(action)
        height = action[:to]
        unless height.is_a?(Numeric) && height.abs <= GAUGE_REACH_IN
          raise RefusedAction.new(:gauge_out_of_reach, inches: GAUGE_REACH_IN)
        end

        @state.with(water: water_now, gauge_in: height.to_f)
      end

      def canopy(action)
        to = action.named(:to)
        raise RefusedAction.new(:no_canopy) unless @station.assembly.components.include?(:air_inlet)
        raise RefusedAction.new(:canopy_already, place: to) if @state.canopy == to
        raise RefusedAction.new(:canopy_unknown) unless %i[on off].include?(to)

        @state.with(canopy: to)
      end

      # A tag hangs in one place: hung elsewhere it is gone from where it was. Nothing to hang is one taken off.
      def tag(action)
        part = action.named(:at)
        raise RefusedAction.new(:tagged_for_good) unless @station.tags_to_hang?

        fit = Tags.for(@station, part)
        raise RefusedAction.new(:no_such_valve, typed: part) if fit.empty?

        tag = action.named(:as)
        return untag(part) if tag.nil? || tag.empty?
        raise RefusedAction.new(:tag_unfit) unless fit.include?(tag)
        raise RefusedAction.new(:tag_there, control: part) if @state.tags[part] == tag

        @state.with(tags: @state.tags.reject { |_, hung| hung == tag }.merge(part => tag).freeze)
      end

      def untag(part)
        raise RefusedAction.new(:tag_nowhere) unless @state.tags.key?(part)

        @state.with(tags: @state.tags.except(part).freeze)
      end

      # --- eyes and voice

      def look(action)
        thing = action.named(:at)
        unless Sight.thing?(@station, thing)
          raise RefusedAction.new(:nothing_to_look_at, typed: thing)
        end

        # A plate that cannot be read has not been read.
        thing = :plate_corroded if thing == :plate && @station.plate_corroded? &&
          !@state.looked.include?(:plate_cleaned)
        @state.with(looked: (@state.looked | [thing]).freeze)
      end

      def clean(action)
        return clear(action.named(:at)) if @station.assembly.test_cocks.key?(action.named(:at))
        raise RefusedAction.new(:nothing_to_clean) unless action.named(:at) == :plate

        @state.with(looked: (@state.looked | %i[plate_cleaned]).freeze)
      end

      def watch(action) = @state.with(watching: action.named(:at), watched_s: @time_s)

      def tell(action)
        person = @station.site.people[action.named(:person)]
        raise RefusedAction.new(:nobody_called, typed: action[:person]) unless person
        unless Sight::TOPICS.include?(action.named(:topic))
          raise RefusedAction.new(:nothing_to_say, typed: action[:topic])
        end

        @state.with(told: (@state.told | [[person.id, action.named(:topic)]]).freeze)
      end

      # --- paper

      def jot(action)
        item = action.named(:item)
        value = action[:value].to_s.strip
        raise RefusedAction.new(:empty_note) if value.empty?
        raise RefusedAction.new(:long_note, characters: NOTE_LENGTH) if value.length > NOTE_LENGTH

        @state.with(notebook: (@state.notebook + [Note.new(item, value, @time_s)]).freeze)
      end

      def fill(action)
        field = action.named(:field)
        value = action[:value].to_s
        procedures = @station.catalog.procedures.values + @station.procedures
        unless Reports::FieldReport.field?(@station.assembly, procedures, field)
          raise RefusedAction.new(:no_such_field, typed: field)
        end
        raise RefusedAction.new(:long_entry, characters: ENTRY_LENGTH) if value.length > ENTRY_LENGTH

        @state.with(report: @state.report.merge(field => value).freeze)
      end

      def find(action)
        thing = action.named(:finding)
        unless Sight.thing?(@station, thing) || thing == :permission
          raise RefusedAction.new(:nothing_to_note, typed: thing)
        end
        raise RefusedAction.new(:noted_already) if @state.findings.include?(thing.to_s)

        noted = @state.findings + [thing.to_s]
        @state.with(findings: noted.freeze, found_as: @state.found_as.merge(as_what(action, thing)).freeze)
      end

      # What is wrong there, in words of those that can be; a log of before only says where.
      def as_what(action, thing)
        return {} unless action[:as]

        finding = @station.catalog.findings[action.named(:as)]
        raise RefusedAction.new(:say_what_is_wrong) unless finding && finding.at == thing

        {thing => finding.id}
      end

      # Something of an adopted procedure that no needle shows: it is said to be done.
      def declare(action)
        what = action[:what].to_s.to_sym
        own = what.start_with?(Procedures::Adoption::OWN) && what.size <= DECLARED_LENGTH
        raise RefusedAction.new(:no_such_step, typed: what.to_s[0, 40]) unless own
        raise RefusedAction.new(:declared_already) if @state.declared.include?(what)
        raise RefusedAction.new(:no_such_step, typed: what) if @state.declared.size >= MOST_DECLARED

        @state.with(declared: (@state.declared + [what]).freeze)
      end

      def submit(_action) = @state.with(submitted: true)

      HANDLERS = Action::KINDS.keys.to_h { |kind| [kind, instance_method(kind)] }.freeze
      private_constant :HANDLERS
    end
  end
end
