# frozen_string_literal: true

module Nurv
  module Bench
    # A bench after its last act: how everything is set, the water as of the last act that touched it, and the papers.
    #
    # time_s        Float time of the last act
    # water         Hydraulics::State as of the last act that touched the water
    # controls      Hash control => Hydraulics::Ramp
    # hose_ends     Hash hose => :free or a test cock; :bypass_near is :kit or a test cock
    # fittings      Hash fitting => test cock
    # gauge_in      Float height at which the gauge is held above the pipe's centre line
    # canopy        :on or :off
    # capped        Array of test cocks with their caps on; `adapted` those with an adapter
    # tightened     Array of shutoffs that were tightened since they were shut
    # captured_psid Float shown frozen on a digital face, or nil; `captured_s` when it last was
    # memories      Hash of a digital face: item => [psid, simulated s it was taken at, or nil: before anybody came]
    # power         :on, :standby or :off of a digital face; from `shows_s` on it shows something, `touched_s` its
    #               buttons were last pressed, `lit` Boolean its light is on
    # sampled_psid  Float that a digital face showed at the last act, nil for one with a needle
    # watching      :gauge or another thing the eyes are on; `watched_s` since when
    # looked, told  Arrays of what was looked at, and of [person, topic]
    # flushed       Array of test cocks that ran for a second with nothing on them; `running` says since when others do
    # turned_hoses  Array of hoses whose strainer is at the kit's end, where it keeps nothing out of the gauge
    # clogged       Array of hoses that debris got into
    # tags          Hash of a cock or shutoff => the tag that the tester hung on it
    # changes       Array of Hash: repairs done, and troubles an instructor put in
    # findings      Array of what the tester noted as wrong
    # found_as      Hash of what was noted as wrong where => which finding it was called
    # declared      Array of what the tester said was done that no needle shows
    # notebook      Array of Note
    # report        Hash field => String as last typed
    # submitted     Boolean
    State =
      Struct.new(
        :time_s,
        :water,
        :controls,
        :hose_ends,
        :fittings,
        :gauge_in,
        :canopy,
        :capped,
        :adapted,
        :tightened,
        :captured_psid,
        :captured_s,
        :memories,
        :power,
        :shows_s,
        :touched_s,
        :lit,
        :sampled_psid,
        :watching,
        :watched_s,
        :looked,
        :told,
        :findings,
        :found_as,
        :declared,
        :notebook,
        :report,
        :submitted,
        :flushed,
        :running,
        :clogged,
        :turned_hoses,
        :tags,
        :changes,
        keyword_init: true
      ) do
        # @return [State] the same but for these
        def with(**changes)
          other = dup
          changes.each { |name, value| other[name] = value }
          other.freeze
        end

        # @return [Float] where a control stands now, or was bound at time_s
        def position(control, at_s = time_s) = controls.fetch(control).position(at_s)

        # @return [Float] where a control will come to rest
        def rest_position(control) = controls.fetch(control).to

        # @return [Boolean] whether a control is open, or on its way to be
        def open?(control) = rest_position(control) > 0.0

        # @return [Boolean] whether a control is shut, or on its way to be
        def closed?(control) = !open?(control)

        # @return [Symbol, nil] the hose (or fitting) on this test cock
        def on_test_cock(cock) = hose_ends.key(cock) || fittings.key(cock)
      end
  end
end
