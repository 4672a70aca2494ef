# frozen_string_literal: true

module Nurv
  module Procedures
    # A way of testing an assembly, as data: steps in partial order, what is recorded, and what follows from what was
    # seen.
    class Procedure
      attr_reader :overlay,
        :settings,
        :id,
        :label,
        :assembly,
        :kits,
        :summary,
        :steps,
        :items,
        :conclusions,
        :buffer,
        :steady,
        :bleed_air_share,
        :fingerprint

      # @param data [Hash] as in data/procedures
      # @param shared [Hash{Symbol => Hash}] kind (:steps, :settings) => what several procedures take by name
      # @param path [String] the file, or a name for it
      # @return [Hash] with every step and every setting written out
      # @raise [DataError] for one that is not shared
      def self.written_out(data, shared, path)
        return data unless data.is_a?(Hash)

        unknown = []
        written = shared.select { |kind, _| data[kind].is_a?(Array) }.to_h do |kind, known|
          [kind, data[kind].each_with_index.map { |one, index| take(one, known, unknown, "#{kind}[#{index}].use") }]
        end
        raise DataError.new(path, unknown) if unknown.any?

        data.merge(written)
      end

      def self.take(one, known, unknown, place)
        return one unless one.is_a?(Hash) && one[:use]

        shared = known[one[:use].to_s.to_sym]
        unknown << [place, Remark.new(:no_shared_step, typed: one[:use].to_s)] unless shared
        shared.to_h.merge(one.except(:use))
      end
      private_class_method :take

      # @param data [Hash] with every step written out, of the shape Shapes::Procedure
      # @param overlay [Hash] what an instructor changed, of the shape Shapes::Overlay: label, limits {item => psid},
      #   points {step => points}, critical {step => true/false}, settings {setting => way} and more
      # @raise [DataError] for changes that contradict themselves, with each place
      def initialize(data, overlay = {})
        @usual = data
        adoption = Adoption.new(data, overlay)
        @settings = adoption.settings.freeze
        @data = data = adoption.data
        @overlay = overlay
        # Alike in this process for procedures that say the same.
        @fingerprint = [@usual, overlay].hash
        @id = data[:id].to_sym
        @label = overlay.fetch(:label, data[:label])
        @assembly = data[:assembly].to_sym
        @kits = data[:kits].map(&:to_sym)
        @summary = data[:summary]
        @steady = data[:steady]
        @bleed_air_share = data[:bleed_air_share]
        @items = data[:items].to_h { |item| [item[:id].to_sym, Item.new(with_limit(item))] }.freeze
        @steps = data[:steps].map { |step| Step.new(with_points(step)) }.freeze
        @conclusions = data[:conclusions].map { |conclusion| with_limits(conclusion) }
        @buffer = data[:buffer]
        @apparent_serves = data.fetch(:apparent_serves, true)
        @asks = %i[line_pressure shutoffs particulars].select { |what| data[:"asks_#{what}"] }
        @leaking_shutoff = data.fetch(:leaking_shutoff, "either").to_sym
        @diagnosis_only = overlay.fetch(:diagnosis_only, data.fetch(:diagnosis_only, false))
        freeze
      end

      # @return [Array<Symbol>] heights that its steps hold the gauge at, or ask it to be held at
      def levels = steps.flat_map { |step| step.acts + step.must }.filter_map { |clause| clause[:level]&.to_sym }.uniq

      # @param id [Symbol]
      # @return [Step, nil]
      def step(id) = steps.find { |step| step.id == id }

      # @return [Item, nil] a reading that is only apparent, and gives way to another that confirms it
      def apparent_item = items.values.find(&:gives_way_to)

      # @return [Array<Symbol>] of its differentials, which a digital kit has memories for
      def memories = items.values.select { |item| item.unit == "psid" }.map(&:id)

      # @param name [String] like "supply:fluctuates"
      def concludes?(name) = conclusions.any? { |conclusion| conclusion[:says] == name }

      # @param fault [Equipment::Fault]
      # @return [Boolean] it can come to that as the cause; a blocked test cock shows when it is flushed
      def names?(fault) =
        concludes?("#{fault.component}:#{fault.reason}") || (fault.reason == :blocked && steps.any?(&:flushes?))

      # @return [String] like "R1 · Two hoses and bypass"
      def title = "#{id.to_s.upcase} · #{label}"

      # @return [String, nil] like "below 3.0" where the relief valve opens too near the first check valve's reading
      def buffer_warning(values)
        found = buffer_psid(values)
        "below #{buffer[:warn_below_psid]}" if found && found < buffer[:warn_below_psid]
      end

      # @return [Float, nil] psid by which the relief valve opens below check valve 1's differential; nil if either is
      #   not recorded
      def buffer_psid(values)
        return unless buffer

        minus = Item.number(values[buffer[:minus].to_sym])
        of = buffer[:of].filter_map { |id| Item.number(values[id.to_sym]) }.first
        (of - minus).round(1) if of && minus
      end

      # Whether an apparent value stands where it cannot be confirmed.
      def apparent_serves? = @apparent_serves

      # What a shutoff that leaks makes of the whole where the test cannot be finished for it.
      #
      # @return [Symbol] :fails, :not_completed or :either
      attr_reader :leaking_shutoff

      # @param what [Symbol] :line_pressure, :shutoffs or :particulars
      # @return [Boolean] whether the report must say it, and say it truly
      def asks?(what) = @asks.include?(what)

      # Whether some authorities take it for diagnosis only, not as the test of record.
      def diagnosis_only? = @diagnosis_only

      # @return [Procedure] the same with an instructor's label, limits and points
      # @raise [DataError] for changes that contradict themselves, with each place
      def adjusted(overlay)
        return self if overlay.empty?

        problems = Adoption.new(@usual, overlay).problems
        raise DataError.new(overlay.fetch(:label, title), problems) if problems.any?

        Procedure.new(@usual, overlay)
      end

      # @param setting [Setting]
      # @return [Setting::Choice] the way that is taken here
      def way(setting) = setting.choice(overlay.fetch(:settings, {})[setting.id])

      # @return [Array<Symbol>] all steps before an instructor's changes, in their order
      def usual_steps = @usual[:steps].map { |step| step[:id].to_sym }

      # The same with other acts: how it is carried out, not how it is judged.
      #
      # @yieldparam id [Symbol] of a step
      # @yieldparam acts [Array<Hash>] as the step has them
      # @param ids [Array<Symbol>] steps that are carried out, whatever is seen on the way
      # @yieldreturn [Array<Hash>]
      # @return [Procedure]
      def acted(ids)
        steps =
          @data[:steps]
            .select { |step| ids.include?(step[:id].to_sym) }
            .map { |step| step.except(:only, :skip).merge(do: yield(step[:id].to_sym, step.fetch(:do, []))) }
        plainly(steps)
      end

      # @param ids [Array<Symbol>] of all its steps
      # @return [Procedure] the same, carried out in that order
      def ordered(ids) =
        plainly(@data[:steps].sort_by { |step| ids.index(step[:id].to_sym) })

      # Limits as they are in the data, before any overlay.
      def usual_limits =
        @usual[:items].filter_map { |item| [item[:id].to_sym, item[:at_least]] if item[:at_least] }.to_h

      private

      # With other steps: what was adopted is in the data already.
      def plainly(steps) =
        Procedure.new(@data.merge(steps: steps), overlay.slice(:label, :limits, :points, :critical, :diagnosis_only))

      def with_limit(item)
        limit = limits[item[:id].to_sym]
        limit ? item.merge(at_least: limit.to_f) : item
      end

      def limits = @overlay.fetch(:limits, {})

      # What follows from a reading below its limit follows from the limit as it now is.
      def with_limits(conclusion)
        %i[below at_least].reduce(conclusion) do |result, side|
          next result unless result[side]

          result.merge(
            side =>
              result[side].to_h do |item, limit|
                [item, (limit == usual_limits[item]) ? limits.fetch(item, limit).to_f : limit]
              end
          )
        end
      end

      def with_points(step)
        id = step[:id].to_sym
        changes = {points: @overlay.dig(:points, id), critical: @overlay.dig(:critical, id)}.compact
        step.merge(changes)
      end
    end
  end
end
