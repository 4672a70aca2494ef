# frozen_string_literal: true

module Nurv
  module Teaching
    # One skill as a bench: a station drawn by a seed, the correct tester's run up to a step, and then the trainee's
    # own hands, marked by the same grader for what the drill is about and for nothing else.
    class Drill
      REPORT = :report
      SEVERITY = :moderate
      # A way to drill it. procedure, from [Symbol]; steps, readings, judgements, faults [Array<Symbol>]; found
      # [Boolean]
      Way = Struct.new(:procedure, :from, :steps, :readings, :judgements, :faults, :found, keyword_init: true)

      attr_reader :id, :label, :task, :why, :seconds, :ways

      # @return [Boolean] whether text looks like a file of drills
      def self.of?(text) = text.match?(/^- id:/) && text.match?(/^  ways:/)

      # @param text [String] YAML, a list of drills
      # @param catalog [Catalog] whose procedures, faults and findings they name
      # @return [Hash{Symbol => Drill}]
      # @raise [DataError] with everything that is wrong
      def self.parse(text, catalog, path = "drills")
        list = Facts.parse(text, path, lists: true)
        raise DataError.new(path, [["top", Remark.new(:should_be_list)]]) unless list.is_a?(Array)

        list.each_with_index { |data, index| Shapes::Drill.check!(data, "#{path}[#{index}]") }
        drills = list.to_h { |data| [data[:id].to_sym, new(data)] }
        problems = drills.values.flat_map { |drill| drill.problems(catalog) }
        raise DataError.new(path, problems) if problems.any?

        drills
      end

      # @param data [Hash] of the shape Shapes::Drill
      def initialize(data)
        @id = data[:id].to_sym
        @label = data[:label]
        @task = data[:task]
        @why = data[:why]
        @seconds = data[:seconds]
        @face = data[:face]
        @findings = names(data[:findings])
        @ways =
          data[:ways].map do |way|
            lists = %i[steps readings judgements faults].to_h { |key| [key, names(way[key])] }
            Way.new(procedure: way[:procedure].to_sym, from: way[:from].to_sym, found: way[:found] || false, **lists)
          end
        freeze
      end

      # @param catalog [Catalog]
      # @return [Array<Array(String, Remark)>] place and what it names that is not there
      def problems(catalog)
        found = unknown("findings", @findings, catalog.findings.keys)
        found + @ways.each_with_index.flat_map do |way, index|
          procedure = catalog.procedures[way.procedure]
          place = "ways[#{index}]"
          next unknown("#{place}.procedure", [way.procedure], catalog.procedures.keys) unless procedure

          steps = procedure.steps.map(&:id)
          unknown("#{place}.from", [way.from], steps + [REPORT]) + unknown("#{place}.steps", way.steps, steps) +
            unknown("#{place}.readings", way.readings, procedure.items.keys) +
            unknown("#{place}.faults", way.faults, catalog.faults.keys)
        end
      end

      # @param ids [Array<Symbol>] of procedures that may be practised
      # @return [Array<Way>]
      def ways_by(ids) = ways.select { |way| ids.include?(way.procedure) }

      # @param way [Way]
      # @param procedure [Procedures::Procedure] that of the way, as it was adopted
      # @param seed [Integer]
      # @param catalog [Catalog]
      # @return [Stations::Station]
      def station(way, procedure, seed, catalog)
        random = Random.new(seed)
        fault = way.faults.empty? ? nil : catalog.faults.fetch(way.faults[random.rand(way.faults.size)])
        made =
          Expert::Generator
            .new(procedure, :easy, seed, catalog, faults: fault ? [[fault, SEVERITY]] : [], swing_psi: 0.0)
            .stations(1)
            .first
        changes = {id: "drill-#{id}-#{seed}"}
        changes[:findings] = [@findings[random.rand(@findings.size)].to_s] if @findings.any?
        changes[:kit] = {**made.data[:kit], face: @face} if @face
        Stations::Station.new(Facts.of({**made.data, **changes}), catalog)
      end

      # @param way [Way]
      # @param variant [Stations::Variant]
      # @param procedure [Procedures::Procedure]
      # @return [Array<Bench::Action>] what is done already when the trainee comes
      def begun(way, variant, procedure)
        run = Expert::Truth.of(variant, procedure).run
        return paper_begun(run, procedure) if way.from == REPORT

        from = run.moments.fetch(way.from, run.end_s)
        run.log.take_while { |action| action.time_s < from && action.kind != :fill }
      end

      # What was done, as it is graded: readings that are in the notebook count as written.
      #
      # @param log [Bench::Log] handed in
      # @return [Bench::Log]
      def handed_in(log)
        acts = log.to_a
        last = acts.last
        written = acts.select { |act| act.kind == :fill }.map { |act| act[:field].to_s }
        notes = acts.select { |act| act.kind == :jot }.to_h { |act| [act[:item].to_s, act[:value]] }.except(*written)
        fills = notes.each_with_index.map do |(item, value), index|
          Bench::Action.new(kind: "fill", field: item, value: value, at_ms: last.at_ms, id: "drill-fill-#{index}")
        end
        Bench::Log.new(acts[0..-2] + fills + [last])
      end

      # What it is worth to who does it right, and to who only presses Done.
      #
      # @param way [Way]
      # @param seed [Integer]
      # @param catalog [Catalog]
      # @return [Array(Float, Float)] 0..100 each
      def trial(way, seed, catalog)
        procedure = catalog.procedures.fetch(way.procedure)
        variant = Stations::Variant.new(station(way, procedure, seed, catalog), 1)
        before = begun(way, variant, procedure)
        at_once = Bench::Action.new(kind: "submit", at_ms: before.last&.at_ms.to_i + 500, id: "done")
        right = Expert::Truth.of(variant, procedure).run.log
        [right, Bench::Log.new(before + [at_once])].map do |log|
          score(lines(way, Grading::Grader.grade(variant, handed_in(log), procedure: procedure)))
        end
      end

      # @param way [Way]
      # @param grade [Grading::Grade]
      # @return [Array<Grading::Line>] of what the drill is about
      def lines(way, grade) = grade.lines.select { |line| about?(way, line) }

      # @param lines [Array<Grading::Line>]
      # @return [Float] 0..100
      def score(lines)
        possible = lines.sum(&:points)
        return 0.0 unless possible.positive?

        (lines.sum(&:earned) / possible.to_f * 100.0).clamp(0.0, 100.0).round(1)
      end

      private

      def names(list) = (list || []).map(&:to_sym).freeze

      def unknown(place, names, known) =
        (names - known).map { |name| ["#{id}: #{place}", Remark.new(:not_known, typed: name.to_s, listed: known)] }

      # All that was read is on the report; what follows from it is not.
      def paper_begun(run, procedure)
        run.log.reject do |action|
          action.kind == :submit || (action.kind == :fill && !procedure.items.key?(action[:field].to_s.to_sym))
        end
      end

      def about?(way, line)
        case line.section
        when :procedure then way.steps.include?(line.about)
        when :readings then way.readings.include?(line.id)
        when :judgement then way.judgements.include?(line.id) || (way.found && line.id.match?(/\A(finding|false)_/))
        else false
        end
      end
    end
  end
end
