# frozen_string_literal: true

require "etc"
require "optparse"

module Nurv
  # The command line: truth, replay, grade and check of station and log files.
  class CommandLine
    USAGE = <<~TEXT
      Usage:
        nurv check  STATION.yml                      say whether a station file is good and can be solved
        nurv check  PROCEDURE.yml                    say whether an adopted procedure goes together, and what it finds
        nurv check  DRILLS.yml                       say whether drills can be done, and what they are worth
        nurv truth  STATION.yml                      what a correct tester reads there
        nurv replay STATION.yml LOG.jsonl            time, reading and outlets
        nurv grade  STATION.yml LOG.jsonl            every line of the grade
        nurv expert STATION.yml                      the log of a correct tester
        nurv matrix                                  every procedure against every fault (--pairs: two at a time)
        nurv fairness                                good and mistaken logs, and how they are marked (--procedure ID)
      Options: --seed N (default 1), --procedure ID, --json, --csv, --every SECONDS (replay, default 1)
    TEXT
    COMMANDS = {
      "check" => 1,
      "truth" => 1,
      "replay" => 2,
      "grade" => 2,
      "expert" => 1,
      "matrix" => 0,
      "fairness" => 0
    }.freeze

    # @param arguments [Array<String>] as typed
    # @param catalog [Catalog] the facts that files are read by
    def initialize(arguments, catalog: Catalog.shipped, out: $stdout, err: $stderr)
      @arguments = arguments.dup
      @catalog = catalog
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
      complain(words.error(error))
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

    def words = @catalog.words

    def station = @station ||= Stations::Station.read(@station_path, @catalog)

    def variant = @variant ||= Stations::Variant.new(station, @options[:seed])

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
      text = File.read(@station_path)
      return check_adopted if Procedures::AdoptedFile.of?(text)
      return check_drills(text) if Teaching::Drill.of?(text)

      truths = procedures.map { |procedure| Expert::Truth.of(variant, procedure) }
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

    # A procedure's file: whether it goes together, and what it does on the simulator.
    def check_adopted
      adopted = Procedures::AdoptedFile.parse(File.read(@station_path), @catalog, @station_path).adopted
      proof = Fairness::Proof.new(@catalog, adopted, @catalog.demo_stations).to_h
      short = proof[:faults].map(&:last).push(proof[:healthy_score]).count { |score| score < 100.0 }
      healthy = proof[:healthy].map { |pair| pair.join(" ") }.join(", ")
      @out.puts "#{@station_path}: good; #{adopted.title}: healthy #{healthy}"
      proof[:faults].each { |fault, severity, outcome, *| @out.puts "  #{fault} #{severity}: #{outcome}" }
      @out.puts "  its own expert earns full marks #{short.zero? ? "everywhere" : "not everywhere (#{short})"}"
      short.zero? ? 0 : 1
    end

    # Drills: who does one right has full marks for it, in every way, and who only presses Done has less.
    def check_drills(text)
      drills = Teaching::Drill.parse(text, @catalog, @station_path)
      bad = drills.values.flat_map { |drill| drill.ways.reject { |way| tried?(drill, way) } }
      @out.puts "#{@station_path}: #{drills.size} drills, #{bad.empty? ? "good" : "#{bad.size} ways are not"}"
      bad.empty? ? 0 : 1
    end

    def tried?(drill, way)
      right, at_once = drill.trial(way, @options[:seed], @catalog)
      good = right >= 100.0 && at_once < 100.0
      @out.puts "  #{drill.id} by #{way.procedure}: done right #{right}, Done at once #{at_once}#{" ✗" unless good}"
      good
    end

    def truth
      sheets = procedures.map { |procedure| TruthSheet.new(Expert::Truth.of(variant, procedure), words) }
      @out.puts((@options[:format] == :json) ? JSON.pretty_generate(sheets.map(&:to_h)) : sheets.join("\n"))
      0
    end

    def expert
      @out.puts Expert::Truth.of(variant, procedures.first).run.log.to_jsonl
      0
    end

    def matrix
      page = MatrixPage.new(Expert::Matrix.new(@catalog))
      @out.puts(@options[:pairs] ? page.pairs : page.singles)
      0
    end

    # What is not marked as it should be is told at once.
    def fairness
      id = @options[:procedure]
      known = @catalog.procedures
      if id && !known.key?(id)
        unknown = Remark.new(:not_known, typed: id.to_s, listed: known.keys)
        raise DataError.new("fairness", [["procedure", unknown]])
      end

      chosen = id ? [known.fetch(id)] : known.values
      survey = Fairness::Survey.new(@catalog, procedures: chosen)
      trials = survey.try_side_by_side(Etc.nprocessors).each { |trial| @err.puts trial unless trial.right? }
      cheats, borders =
        [Fairness::Cheats, Fairness::Borders].map { |kind| kind.new(@catalog) }
      @out.puts FairnessPage.new(trials, cheats.results, borders.rows)
      trials.all?(&:right?) ? 0 : 1
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
      told = Words::ToldGrade.new(grade, @catalog)
      @out.puts((@options[:format] == :json) ? JSON.pretty_generate(told.to_h) : GradeText.new(told).to_s)
      0
    end

    def read_log
      Bench::Replay.new(variant, log)
    rescue RefusedAction => error
      raise DataError.new(@log_path, [["log", error.remark]])
    end

    COMMAND_METHODS = COMMANDS.keys.to_h { |name| [name, instance_method(name)] }.freeze
    private_constant :COMMAND_METHODS
  end
end
