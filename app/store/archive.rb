# frozen_string_literal: true

require "json"
require "zlib"
require "rubygems/package"

module Store
  # A whole class as one file, and back: roster, exams, stations, every log, overrides. Grades are not in it: they follow.
  class Archive
    VERSION = 1
    MOST_BYTES = 80 * 1024 * 1024
    ATTEMPT = %i[id exam_id position station_body seed mode policy policy_body status anchor_sim_ms skipped_ms extra_ms retest_of comment last_seq].freeze
    STATES = %w[assigned started submitted published].freeze
    EXAM_STATES = %w[draft open paused closed].freeze
    MODES = %w[practice exam proctor].freeze
    TIMES = %i[created_at started_at submitted_at published_at].freeze

    # The file cannot be read as a class.
    class BadArchive < Nurv::Error; end

    def initialize(database = DB)
      @database = database
    end

    # @return [String] a .tar.gz
    def pack(room)
      attempts = @database[:attempts].where(class_id: room.id).exclude(status: "left").order(:id).all
      io = StringIO.new("".b)
      Zlib::GzipWriter.wrap(io) do |gzip|
        Gem::Package::TarWriter.new(gzip) do |tar|
          add(tar, "class.json", JSON.pretty_generate(description(room, attempts)))
          attempts.each { |attempt| add(tar, "logs/#{attempt[:id]}.jsonl", log_of(attempt)) }
        end
        gzip.finish
      end
      io.string
    end

    # @param bytes [String]
    # @return [Classes::Room] a new class of this owner
    # @raise [BadArchive]
    def unpack(owner, bytes)
      files = read(bytes)
      data = JSON.parse(files.fetch("class.json") { raise BadArchive, "There is no class.json in it." }, symbolize_names: true)
      raise BadArchive, "It is of version #{data[:version].inspect}; this Nurv reads version #{VERSION}." unless data[:version] == VERSION

      @database.transaction { restore(owner, data, files) }
    rescue BadArchive
      raise
    rescue => error
      # Whatever a file from outside makes go wrong, nothing of it was kept.
      raise BadArchive, "It is not a class exported by Nurv, or it is damaged (#{error.message[0, 120]})."
    end

    private

    def add(tar, name, text) = tar.add_file_simple(name, 0o644, text.bytesize) { |file| file.write(text) }

    def log_of(attempt) = @database[:events].where(attempt_id: attempt[:id]).order(:seq).select_map(:body).map { |body| "#{body}\n" }.join

    def description(room, attempts)
      ids = attempts.map { |attempt| attempt[:trainee_id] } | @database[:members].where(class_id: room.id).select_map(:user_id)
      {version: VERSION, name: room.name, people: @database[:users].where(id: ids).select_map([:id, :name]).map { |id, name| {id: id, name: name} },
       roster: @database[:members].where(class_id: room.id).select_map(:user_id),
       exams: @database[:exams].where(class_id: room.id).order(:id).map { |row| stamped(row.except(:class_id, :owner_id)) },
       attempts: attempts.map { |row| stamped(row.slice(*ATTEMPT, *TIMES)).merge(trainee: row[:trainee_id]) },
       overrides: @database[:overrides].where(attempt_id: attempts.map { |row| row[:id] }).order(:id).map { |row| stamped(row.slice(:attempt_id, :line, :earned, :reason, :at)) }}
    end

    def stamped(row) = row.transform_values { |value| value.is_a?(Time) ? value.utc.iso8601(3) : value }

    def read(bytes)
      raise BadArchive, "It is larger than #{MOST_BYTES / 1024 / 1024} MB." if bytes.bytesize > MOST_BYTES

      total = 0
      Zlib::GzipReader.wrap(StringIO.new(bytes)) do |gzip|
        Gem::Package::TarReader.new(gzip).to_h do |entry|
          total += entry.header.size
          raise BadArchive, "It unpacks to too much." if total > 8 * MOST_BYTES

          [entry.full_name, entry.read.to_s.dup.force_encoding("UTF-8")]
        end
      end
    end

    def restore(owner, data, files)
      room = Classes.new(@database).create(owner, data.fetch(:name))
      people = data.fetch(:people).to_h { |person| [person.fetch(:id), Users.new(@database).create_trainee(person.fetch(:name), room.join_code).id] }
      data.fetch(:roster).each { |id| @database[:members].insert(class_id: room.id, user_id: people.fetch(id)) }
      exams = data.fetch(:exams).to_h { |row| [row.fetch(:id), restore_exam(owner, room, row)] }
      attempts = {}
      data.fetch(:attempts).each { |row| attempts[row.fetch(:id)] = restore_attempt(owner, room, row, people, exams, attempts, files) }
      data.fetch(:overrides).each { |row| @database[:overrides].insert(**timed(row), attempt_id: attempts.fetch(row.fetch(:attempt_id)), user_id: owner.id) }
      room
    end

    # An exam that was running when it was exported is over here: nobody is at its benches.
    def restore_exam(owner, room, row)
      raise BadArchive, "Exam #{row[:id]} is in a state this Nurv does not know." unless EXAM_STATES.include?(row[:status])

      Nurv::Grading::Policy.parse(row.fetch(:policy))
      JSON.parse(row.fetch(:stations), symbolize_names: true).each { |item| Nurv::Scenarios::Station.parse(item.fetch(:body), "a station of exam #{row[:id]}") }
      status = (row[:status] == "draft") ? "draft" : "closed"
      @database[:exams].insert(**timed(row.except(:id)), status: status, class_id: room.id, owner_id: owner.id)
    end

    def restore_attempt(owner, room, row, people, exams, attempts, files)
      Nurv::Grading::Policy.parse(row[:policy_body]) if row[:policy_body]
      raise BadArchive, "Attempt #{row[:id]} is in a state this Nurv does not know." unless STATES.include?(row[:status]) && MODES.include?(row[:mode])

      Nurv::Scenarios::Station.parse(row.fetch(:station_body), "station of attempt #{row[:id]}")
      log = Nurv::Bench::Log.parse(files.fetch("logs/#{row[:id]}.jsonl"), "log of attempt #{row[:id]}")
      # Nobody is at a bench that comes out of a file: its clock stands where its log ends.
      values = timed(row.except(:id, :trainee)).merge(trainee_id: people.fetch(row.fetch(:trainee)), instructor_id: owner.id, class_id: room.id, exam_id: row[:exam_id] && exams.fetch(row[:exam_id]),
        retest_of: row[:retest_of] && attempts[row[:retest_of]], last_seq: log.size)
      values = values.merge(status: "submitted", submitted_at: Time.now) if row[:status] == "started"
      id = @database[:attempts].insert(**values)
      @database[:events].multi_insert(log.each_with_index.map { |action, index| {attempt_id: id, seq: index + 1, action_id: action.id || "imported-#{index}", at_ms: action.at_ms, body: action.to_json, recorded_at: Time.now} })
      id
    end

    def timed(row) = row.to_h { |key, value| [key, (value.is_a?(String) && key.to_s.match?(/\A(at|.*_at)\z/)) ? Time.iso8601(value) : value] }
  end
end
