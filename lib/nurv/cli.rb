# frozen_string_literal: true

require "csv"
require "optparse"

module Nurv
  # The command line: truth, replay, grade and check of station and log files.
  class CLI
    USAGE = <<~TEXT
      Usage:
        nurv check  STATION.yml                      say whether a station file is good and can be solved
        nurv truth  STATION.yml                      what a correct tester reads there
        nurv replay STATION.yml LOG.jsonl            time, reading and outlets
        nurv grade  STATION.yml LOG.jsonl            every line of the grade
        nurv expert STATION.yml                      the log of a correct tester
        nurv matrix                                  every procedure against every fault (--pairs: two at a time)
      Options: --seed N (default 1), --procedure ID, --json, --csv, --every SECONDS (replay, default 1)
    TEXT
    COMMANDS = {"check" => 1, "truth" => 1, "replay" => 2, "grade" => 2, "expert" => 1, "matrix" => 0}.freeze

    def initialize(arguments, out: $stdout, err: $stderr)
      @arguments = arguments.dup
      @out = out
      @err = err
      @options = {seed: 1, every: 1.0, format: :text}
    end

    # @return [Integer] exit status: 0 done, 1 the station has a warning, 2 bad input
    def run
      parser.parse!(@arguments)
      command, *files = @arguments
      return usage unless COMMANDS[command] == files.size

      @station_path, @log_path = files
      COMMAND_METHODS.fetch(command).bind_call(self)
    rescue OptionParser::ParseError, DataError, RefusedAction => error
      complain(error.message)
    rescue Errno::ENOENT, Errno::EISDIR, Errno::EACCES => error
      complain("#{error.message.split(" @ ").first}: #{error.message[/- (.*)\z/, 1]}")
    end

    private

    def parser
      OptionParser.new do |options|
        options.on("--seed N", Integer) { |seed| @options[:seed] = seed }
        options.on("--procedure ID") { |id| @options[:procedure] = id.to_sym }
        options.on("--every SECONDS", Float) { |seconds| @options[:every] = [seconds, 0.05].max }
        options.on("--pairs") { @options[:pairs] = true }
        options.on("--json") { @options[:format] = :json }
        options.on("--csv") { @options[:format] = :csv }
      end
    end

    def usage
      @err.puts USAGE
      2
    end

    def complain(message)
      @err.puts message
      2
    end

    def station = @station ||= Scenarios::Station.read(@station_path)

    def variant = @variant ||= Scenarios::Variant.new(station, @options[:seed])

    def log = @log ||= Bench::Log.parse(File.read(@log_path), @log_path)

    def procedures
      return station.procedures unless @options[:procedure]

      station
        .procedures
        .select { |procedure| procedure.id == @options[:procedure] }
        .tap do |chosen|
          if chosen.empty?
            raise DataError.new(
              @station_path,
              [["procedures", "#{@options[:procedure]} is not allowed at this station"]]
            )
          end
        end
    end

    def check
      truths = procedures.map { |procedure| Scenarios::Truth.of(variant, procedure) }
      if truths.any?(&:solvable?)
        return (
          @out
            .puts(
              "#{@station_path}: good; #{truths.map { |truth| truth.procedure.title }.join(", ")} finds what is wrong"
            )
            .then { 0 }
        )
      end

      @out.puts "#{@station_path}: warning: no allowed procedure finds #{truths.first.faults.join(", ")}"
      1
    end

    def truth
      sheets = procedures.map { |procedure| TruthSheet.new(Scenarios::Truth.of(variant, procedure)) }
      @out.puts((@options[:format] == :json) ? JSON.pretty_generate(sheets.map(&:to_h)) : sheets.join("\n"))
      0
    end

    def expert
      @out.puts Scenarios::Truth.of(variant, procedures.first).run.log.to_jsonl
      0
    end

    def matrix
      @out.puts(@options[:pairs] ? Scenarios::Matrix.new.pairs_to_markdown : Scenarios::Matrix.new.to_markdown)
      0
    end

    def replay
      replayed = read_log
      rows = ReplayTable.new(replayed, @options[:every])
      @out.puts((@options[:format] == :json) ? rows.to_json : rows.to_csv)
      0
    end

    def grade
      read_log
      grade = Grading::Grader.grade(variant, log, procedure: @options[:procedure] && procedures.first)
      @out.puts((@options[:format] == :json) ? JSON.pretty_generate(grade.to_h) : Reports::GradeText.new(grade).to_s)
      0
    end

    def read_log
      Bench::Replay.new(variant, log)
    rescue RefusedAction => error
      raise DataError.new(@log_path, [["log", error.message]])
    end

    COMMAND_METHODS = COMMANDS.keys.to_h { |name| [name, instance_method(name)] }.freeze
    private_constant :COMMAND_METHODS

    # A truth as text or data.
    class TruthSheet
      def initialize(truth)
        @truth = truth
      end

      def to_h
        {
          procedure: @truth.procedure.id,
          values: @truth.values,
          components: @truth.verdict.components,
          overall: @truth.verdict.overall,
          diagnoses: @truth.diagnoses,
          faults: @truth.faults,
          solvable: @truth.solvable?,
          buffer_psid: @truth.buffer_psid,
          seconds: @truth.run.end_s
        }
      end

      def to_s
        rows =
          @truth.procedure.items.values.filter_map do |item|
            [item.label, @truth.values[item.id]] if @truth.values.key?(item.id)
          end
        rows += @truth.verdict.components.map { |component, result| [Bench::Words::COMPONENTS[component], result] }
        rows << ["Overall", @truth.verdict.overall]
        rows << ["Buffer", @truth.buffer_psid] if @truth.buffer_psid
        rows << ["Diagnosis", @truth.diagnoses.empty? ? "nothing wrong" : @truth.diagnoses.join(", ")]
        if @truth.repairs?
          rows << ["Mends", @truth.mending.map { |part, way| "#{part} #{way}" }.join(", ")] <<
            ["Retest", @truth.run.retest_values.values.join(", ")]
        end
        rows << ["Found?", @truth.solvable? ? "yes" : "no: really #{@truth.faults.join(", ")}"]
        [
          "#{@truth.procedure.title}\n",
          *rows.map { |label, value| format("  %-32s %s\n", label, value.to_s.tr("_", " ")) }
        ].join
      end
    end

    # A replay as a table.
    class ReplayTable
      def initialize(replay, every_s)
        @replay = replay
        @every_s = every_s
      end

      def rows
        0.0
          .step(@replay.end_s, @every_s)
          .map do |time|
            span = @replay.span_at(time)
            wet = span.outlets_at(time).select { |_, flow| flow >= Bench::Words::FLOWS[:drip] }
            {
              time_s: time.round(3),
              reading_psid: span.shown_at(time).round(3),
              outlets: wet.map { |outlet, flow| "#{outlet}:#{Bench::Words.flow(flow)}" }.join(" ")
            }
          end
      end

      def to_json(*) = JSON.pretty_generate(rows)

      def to_csv
        CSV.generate do |csv|
          csv << %w[time_s reading_psid outlets]
          rows.each { |row| csv << row.values }
        end
      end
    end
  end
end
