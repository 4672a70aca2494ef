# frozen_string_literal: true

module Nurv
  module Bench
    # The part of Hands that presses the buttons of a digital face: power, light, capture, and its memories.
    module Pressing
      private

      # On, or off. Out of standby it takes longer to show anything than when it was off.
      def power(action)
        digital!
        to = on_or_off(action)
        now = face.at(@time_s)
        raise RefusedAction.new(:power_already, place: to) if (now == :off) ? to == :off : to == :on && now != :standby
        return @state.with(power: :off, captured_psid: nil) if to == :off

        wakes = (now == :standby) ? Face::WAKES_S : Face::STARTS_S
        pressed(power: :on, captured_psid: nil, shows_s: @time_s + wakes)
      end

      def light(action)
        running!
        to = on_or_off(action)
        raise RefusedAction.new(:light_already, place: to) if @state.lit == (to == :on)

        pressed(lit: to == :on)
      end

      def capture(_action)
        raise RefusedAction.new(:analogue_cannot_freeze) unless face.digital?

        running!
        pressed(captured_psid: @span.sample_at(@time_s).round(1), captured_s: @time_s)
      end

      def release(_action)
        raise RefusedAction.new(:nothing_frozen) unless @state.captured_psid

        running!
        pressed(captured_psid: nil)
      end

      # What is held, or what is shown just now, into the memory of that name; then it shows what comes again.
      def keep(action)
        running!
        name = action.named(:as)
        raise RefusedAction.new(:no_such_memory, typed: action[:as]) unless memory?(name)

        held = @state.captured_psid
        value = held ? [held, @state.captured_s] : [@span.sample_at(@time_s).round(1), @time_s]
        pressed(captured_psid: nil, memories: @state.memories.merge(name => value.freeze).freeze)
      end

      # All memories.
      def forget(_action)
        running!
        raise RefusedAction.new(:nothing_kept) if @state.memories.empty?

        pressed(memories: {}.freeze)
      end

      def face = @face ||= Face.new(@station, @state)

      def digital!
        raise RefusedAction.new(:analogue_has_none) unless face.digital?
      end

      # A button wakes nothing but the one for power.
      def running!
        digital!
        raise RefusedAction.new(:face_dark) if %i[off standby waking].include?(face.at(@time_s))
      end

      def pressed(**changes) = @state.with(**changes, touched_s: @time_s)

      # It has one for each differential that a report here asks for.
      def memory?(name) = @station.memories.include?(name)
    end
  end
end
