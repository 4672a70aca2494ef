# frozen_string_literal: true

module Store
  # One person at one bench: a row, and the core objects that its station, seed and clock stand for.
  class Attempt
    COLUMNS = %i[
      id
      station_id
      station_body
      instructor_id
      trainee_id
      seed
      mode
      policy
      status
      anchor_wall_ms
      anchor_sim_ms
      seen_wall_ms
      last_seq
      created_at
      started_at
      submitted_at
      published_at
      class_id
      exam_id
      position
      policy_body
      extra_ms
      skipped_ms
      paused_wall_ms
      pace_percent
      retest_of
      comment
      needle_psid
      drill
      drill_from
    ].freeze
    COLUMNS.each { |column| define_method(column) { @row[column] } }

    attr_reader :trainee_name

    # @param row [Hash]
    # @param catalogs [Catalogs] among which is the one that its station and policy are read by
    # @param progress [String, nil] steps reached and alarms as JSON, where they were asked for
    def initialize(row, catalogs, trainee_name: nil, progress: nil)
      @row = row
      @catalogs = catalogs
      @trainee_name = trainee_name
      @progress = progress
    end

    # @return [Nurv::Grading::Progress] nothing reached where it was not asked for
    # @raise [*Nurv::Bench::Snapshot::UNREADABLE] it is damaged
    def progress = Nurv::Grading::Progress.new(@progress ? JSON.parse(@progress, symbolize_names: true) : {})

    # The same after an act that left all but its number as it was.
    #
    # @param seq [Integer]
    # @return [Attempt]
    def after_act(seq) = dup.tap { |after| after.row = {**@row, last_seq: seq} }

    # Whether what is kept of it can be read: one that was damaged, or came from elsewhere, must not keep a list from
    # being shown.
    def sound?
      station && grading_policy && true
    rescue Nurv::Error, KeyError, TypeError, NoMethodError, JSON::ParserError => error
      warn "attempt #{id}: #{error.class}: #{error.message.lines.first&.strip}"
      false
    end

    # The facts that this bench is worked and graded under, whatever has changed since.
    #
    # @return [Nurv::Catalog]
    def catalog = @catalog ||= @catalogs.fetch(@row[:catalog])

    def station = @station ||= self.class.station_of(@row[:station_body], catalog)

    def variant = @variant ||= Nurv::Stations::Variant.new(station, seed)

    # The policy this attempt is marked by, as it was when it was set.
    def grading_policy =
      @grading_policy ||=
        if policy_body
          POLICIES.fetch(policy_body) { Nurv::Grading::Policy.parse(policy_body) }
        else
          catalog.policies.fetch(policy.to_sym)
        end

    # @return [Array<Nurv::Procedures::Procedure>] those allowed here, as its policy has adopted them
    def procedures = @procedures ||= station.procedures.map { |procedure| grading_policy.adjust(procedure) }

    def proctored? = mode == "proctor"

    def practice? = mode == "practice"

    # An instructor at a bench themselves.
    def instructors_own? = trainee_id == instructor_id

    # A trainee is helped and looks inside: at a practice bench, and in no drill.
    def coached? = practice? && drill.nil?

    # The bench's clock against the wall's.
    def clock
      @clock ||=
        BenchClock.new(exam: exam?, rests: practice?, limit_ms: limit_ms, **@row.slice(*BenchClock::FIELDS))
    end

    def paused? = clock.paused?

    def slow? = pace_percent < BenchClock::LIFE

    # @return [Integer, nil] ms the tester still has; nil without a limit
    def left_ms(wall_ms) = clock.left(wall_ms)

    def overdue?(wall_ms) = started? && clock.run_out?(wall_ms)

    def may_skip? = !exam? || grading_policy.skip_waiting?

    def may_ask? = !exam? || grading_policy.hints?

    def exam? = mode == "exam"

    def limit_ms = (exam? && grading_policy.time_limit_min) ? grading_policy.time_limit_min * 60_000 : nil

    def assigned? = status == Status::ASSIGNED

    def started? = status == Status::STARTED

    def submitted? = status == Status::SUBMITTED

    def published? = status == Status::PUBLISHED

    def left? = status == Status::LEFT

    def over? = submitted? || published?

    # A trainee sees a practice result at once, an exam's when it is published.
    def open_to_trainee? = mode == "practice" || published?

    # @return [Integer] simulated time now, ms since the start
    def clock_ms(wall_ms) = clock.at(wall_ms)

    # Attempts share the text of their station and policy; parsing it again for every request would be waste.
    STATIONS = Recent.new(300)
    POLICIES = Recent.new(300)
    private_constant :STATIONS, :POLICIES

    # @param body [String] a station as text
    # @return [Nurv::Stations::Station]
    def self.station_of(body, catalog) =
      STATIONS.fetch([body, catalog.object_id]) { Nurv::Stations::Station.parse(body, catalog) }

    protected

    attr_writer :row
  end
end
