# frozen_string_literal: true

module Nurv
  module Procedures
    # A procedure's data as an authority has adopted it: settings switched, steps left out, moved and added, words and
    # numbers changed. What comes out is data like any other procedure's: expert, grader, hints and sheets follow it.
    class Adoption
      # What a step of an authority's own is recognised by, and how it is done.
      OWN = "own_"
      # What of that a bench shows by itself, so that nobody need say it: conditions, how an expert does it, and
      # whether it must stand so at the end.
      SHOWN = {
        "caps_off" => {matched: [{caps: "off"}], do: [{caps: "off"}]},
        "caps_on" => {matched: [{caps: "on"}], at_end: [{caps: "on"}], do: [{caps: "on"}]},
        "nothing_stored" => {matched: [{nothing_stored: true}], do: [{forget: true}]}
      }.freeze

      # @param data [Hash] of the shape Shapes::Procedure
      # @param overlay [Hash] of the shape Shapes::Overlay
      def initialize(data, overlay)
        @data = data
        @overlay = overlay
      end

      # @return [Hash] of the shape Shapes::Procedure
      def data
        return @data if (CHANGES & @overlay.keys).empty?

        adopted = settings.reduce(@data) { |now, setting| switched(now, setting.choice(chosen[setting.id]).data) }
        adopted = waited(adopted)
        adopted = with_steps(adopted) { |steps| worded(with_own(ordered(kept(steps)))) }
        adopted.merge(buffer: buffer(adopted)).compact
      end

      # @return [Array<Setting>]
      def settings = @data.fetch(:settings, []).map { |one| Setting.new(one) }

      # @return [Array<Array(String, Remark)>] place and what contradicts itself there
      def problems
        steps = data[:steps]
        ids = steps.map { |step| step[:id].to_sym }
        steps.flat_map { |step| problems_of(step, ids) } + unknown + twice(ids)
      end

      private

      CHANGES = %i[settings words left_out order own_steps not_before_s buffer_psid].freeze
      private_constant :CHANGES

      def chosen = @overlay.fetch(:settings, {})

      def with_steps(data) = data.merge(steps: yield(data[:steps]))

      # --- settings

      def switched(data, choice)
        changed = data.merge(choice.fetch(:set, {}))
        changed = with_steps(changed) { |steps| steps.map { |step| patched(step, choice) } }
        changed = with_steps(changed) { |steps| moved(without(steps, choice.fetch(:leave_out, [])), choice) }
        items = without(changed[:items], choice.fetch(:leave_out_items, []))
        changed.merge(items: items.map { |item| item.merge(choice.dig(:items, item[:id].to_sym) || {}) })
      end

      def patched(step, choice)
        id = step[:id].to_sym
        changed = step.merge(choice.dig(:steps, id) || {})
        dropped = (choice.dig(:must_drop, id) || []).map(&:to_sym)
        must = changed.fetch(:must, []).reject { |clause| clause.keys.intersect?(dropped) }
        changed = changed.merge(must: must + (choice.dig(:must_add, id) || []))
        Without.new(choice.fetch(:dropped, []), choice.fetch(:replaced, {})).of(changed)
      end

      def moved(steps, choice)
        choice.fetch(:move, []).reduce(steps) { |now, move| placed(now, move[:step], move[:before]) }
      end

      def placed(steps, id, before)
        step = steps.find { |one| one[:id] == id } or return steps
        rest = steps - [step]
        at = rest.index { |one| one[:id] == before } || rest.size
        rest.dup.insert(at, step)
      end

      def without(list, ids) = list.reject { |one| ids.map(&:to_s).include?(one[:id].to_s) }

      # --- an instructor's own

      # So many seconds before a reading counts, by its item.
      def waited(data)
        seconds = @overlay.fetch(:not_before_s, {})
        return data if seconds.empty?

        by_step =
          data[:items].filter_map { |item| [item[:step], seconds[item[:id].to_sym]] if seconds[item[:id].to_sym] }.to_h
        with_steps(data) { |steps| steps.map { |step| by_step[step[:id]] ? slower(step, by_step[step[:id]]) : step } }
      end

      def slower(step, seconds)
        clause = {lasted: {seconds: seconds}, mistake: "not_waited", not_with: ["read_before_steady"]}
        others = step.fetch(:must, []).map { |one| one[:lasted] ? longer(one, seconds) : one }
        others += [clause] unless others.any? { |one| one[:lasted] }
        step.merge(must: others, do: waiting(step.fetch(:do, []), seconds))
      end

      def longer(clause, seconds) = clause.merge(lasted: clause[:lasted].merge(seconds: seconds))

      def waiting(acts, seconds)
        at = acts.index { |act| act.key?(:jot) } or return acts
        waited = acts[0...at].sum { |act| act[:wait].to_f }
        (waited >= seconds) ? acts : acts.dup.insert(at, {wait: seconds - waited})
      end

      def kept(steps) = without(steps, @overlay.fetch(:left_out, []))

      # Those that are named come in that order; the others keep their places after what they came after.
      def ordered(steps)
        order = @overlay.fetch(:order, []).map(&:to_s)
        return steps if order.empty?

        named, others = steps.partition { |step| order.include?(step[:id].to_s) }
        places = steps.each_index.select { |index| named.include?(steps[index]) }
        sorted = named.sort_by { |step| order.index(step[:id].to_s) }
        result = Array.new(steps.size)
        places.zip(sorted) { |place, step| result[place] = step }
        rest = others.dup
        result.map { |step| step || rest.shift }
      end

      def with_own(steps)
        @overlay.fetch(:own_steps, []).reduce(steps) do |now, own|
          at = now.index { |step| step[:id].to_s == own[:after].to_s }
          now.dup.insert(at ? at + 1 : now.size, own_step(own))
        end
      end

      # Said to be done, or shown by the bench.
      def own_step(own)
        id = "#{OWN}#{own[:id]}"
        said = {matched: [{declared: id}], do: [{act: {kind: "declare", what: id}}, {wait: 1}]}
        {
          **SHOWN.fetch(own[:shown_by], said),
          id: id,
          title: own[:title],
          points: own.fetch(:points, 3),
          critical: own.fetch(:critical, false),
          part: own.fetch(:part, "closing"),
          why: own[:why].to_s.strip.empty? ? own[:title] : own[:why],
          mistakes: [],
          missed: "own_step_missed"
        }
      end

      def worded(steps)
        words = @overlay.fetch(:words, {})
        steps.map { |step| step.merge((words[step[:id].to_sym] || {}).slice(:title, :why, :aid)) }
      end

      def buffer(data)
        psid = @overlay[:buffer_psid]
        (psid && data[:buffer]) ? data[:buffer].merge(warn_below_psid: psid) : data[:buffer]
      end

      # --- what contradicts itself

      def problems_of(step, ids)
        place = "step #{step[:id]}"
        at = ids.index(step[:id].to_sym)
        step.fetch(:after, []).filter_map do |before|
          index = ids.index(before.to_sym)
          next if index && index < at
          next [place, Remark.new(:comes_before, step: before.to_sym)] if index

          # What only came earlier may go; what gives it its hose or its shutoff may not.
          [place, Remark.new(:needs_step, step: before.to_sym)] if step.fetch(:follows_from, []).include?(before)
        end
      end

      def twice(ids) =
        ids.tally.select { |_, times| times > 1 }.keys.map { |id| ["step #{id}", Remark.new(:twice)] }

      def unknown =
        chosen.filter_map do |id, choice|
          setting = settings.find { |one| one.id == id.to_sym }
          next ["settings", Remark.new(:no_such_setting, typed: id.to_s)] unless setting
          next if setting.choices.any? { |one| one.id.to_s == choice.to_s }

          ["settings.#{id}", Remark.new(:not_known, typed: choice.to_s, listed: setting.choices.map(&:id))]
        end
    end
  end
end
