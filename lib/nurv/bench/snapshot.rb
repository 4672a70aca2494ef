# frozen_string_literal: true

module Nurv
  module Bench
    # A bench state as text and back, to the last bit of every number. Only ever a cache: the log says the same.
    module Snapshot
      # What a text that is damaged, or not ours, is met with: all that is kept so can be worked out from the log.
      UNREADABLE = [JSON::ParserError, TypeError, NoMethodError, ArgumentError, KeyError].freeze

      # Nothing is asked for a form of its own: three times as fast, and the same text.
      STRICT = {strict: true}.freeze
      private_constant :STRICT

      module_function

      # @param state [State]
      # @return [String] JSON
      def dump(state)
        hash = state.to_h
        hash[:water] = state.water.to_h
        hash[:controls] = state.controls.transform_values(&:to_a)
        hash[:notebook] = state.notebook.map(&:to_a)
        JSON.generate(hash, STRICT)
      end

      # @param running [Hydraulics::Trajectory::Running, nil]
      # @return [String, nil] JSON
      def dump_running(running) = running && JSON.generate(plain(running), STRICT)

      # @param text [String, nil]
      # @return [Hydraulics::Trajectory::Running, nil]
      def load_running(text) = running_of(JSON.parse(text || "null", symbolize_names: true))

      # @param met [Met, nil]
      # @return [String, nil] JSON
      def dump_met(met)
        return unless met

        running = met.running&.then { |one| plain(one) }
        JSON.generate([Hydraulics::VERSION, met.time_s, met.water&.to_h, met.sampled_psid, running], STRICT)
      end

      # @param text [String]
      # @return [Met, nil] nil: it was met under other laws of the water
      def load_met(text)
        version, time_s, water, sampled_psid, running = JSON.parse(text, symbolize_names: true)
        return unless version == Hydraulics::VERSION

        water &&= Hydraulics::State.from_h(water)
        Met.new(time_s: time_s, water: water, sampled_psid: sampled_psid, running: running_of(running))
      end

      # @param running [Hydraulics::Trajectory::Running]
      # @return [Hash]
      def plain(running) = running.to_h.merge(state: running.state.to_h)

      # @param hash [Hash, nil]
      # @return [Hydraulics::Trajectory::Running, nil]
      def running_of(hash)
        return unless hash

        Hydraulics::Trajectory::Running.new(
          Hydraulics::State.from_h(hash[:state]), *hash.values_at(:dt_s, :quiet, :taken)
        )
      end

      # @param list [Array<String>, nil] nil in one of before there was such a thing
      # @return [Array<Symbol>]
      def names(list) = (list || []).map(&:to_sym).freeze

      # @param text [String]
      # @return [State]
      def load(text)
        hash = JSON.parse(text, symbolize_names: true)
        State.new(
          **hash,
          water: Hydraulics::State.from_h(hash[:water]),
          controls: hash[:controls].transform_values { |ramp| Hydraulics::Ramp.new(*ramp) }.freeze,
          hose_ends: hash[:hose_ends].transform_values(&:to_sym).freeze,
          fittings: hash[:fittings].transform_values(&:to_sym).freeze,
          canopy: hash[:canopy].to_sym,
          capped: names(hash[:capped]),
          adapted: names(hash[:adapted]),
          tightened: names(hash[:tightened]),
          memories: (hash[:memories] || {}).transform_values(&:freeze).freeze,
          power: (hash[:power] || "on").to_sym,
          shows_s: hash[:shows_s] || 0.0,
          touched_s: hash[:touched_s] || 0.0,
          lit: hash[:lit] || false,
          watching: hash[:watching].to_sym,
          looked: names(hash[:looked]),
          told: hash[:told].map { |pair| pair.map(&:to_sym) }.freeze,
          flushed: names(hash[:flushed]),
          found_as: (hash[:found_as] || {}).transform_values(&:to_sym).freeze,
          declared: names(hash[:declared]),
          clogged: names(hash[:clogged]),
          turned_hoses: names(hash[:turned_hoses]),
          tags: (hash[:tags] || {}).transform_values(&:to_sym).freeze,
          notebook: hash[:notebook].map { |item, value, at_s| Note.new(item.to_sym, value, at_s) }.freeze
        ).freeze
      end
    end
  end
end
