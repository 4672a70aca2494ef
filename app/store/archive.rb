# frozen_string_literal: true

require "json"
require "zlib"
require "rubygems/package"

module Store
  # A whole class as one file, and back: roster, exams, stations, every log, overrides. Grades are not in it: they
  # follow.
  class Archive < Drawer
    # 2: with the catalogues that its benches and exams were held under.
    VERSION = 2
    READS = [1, 2].freeze
    MOST_CATALOGS = 40
    MB = 1024 * 1024
    MOST_BYTES = 80 * MB
    # One file in it, all of them, and how many.
    MOST_ENTRY = 24 * MB
    MOST_UNPACKED = 160 * MB
    MOST_ENTRIES = 20_000
    MOST_PEOPLE = 500
    ATTEMPT = %i[
      id
      exam_id
      position
      station_body
      seed
      mode
      policy
      policy_body
      status
      anchor_sim_ms
      skipped_ms
      extra_ms
      retest_of
      comment
      last_seq
      catalog
    ].freeze
    STATES = (Status::ATTEMPT.names - [Status::LEFT]).freeze
    EXAM_STATES = Status::EXAM.names
    MODES = %w[practice exam proctor].freeze
    TIMES = %i[created_at started_at submitted_at published_at].freeze

    # The file cannot be read as a class.
    class BadArchive < Nurv::Error
    end

    # @return [String] a .tar.gz
    def pack(course)
      attempts = @database[:attempts].where(class_id: course.id).exclude(status: Status::LEFT).order(:id).all
      io = StringIO.new("".b)
      Zlib::GzipWriter.wrap(io) do |gzip|
        Gem::Package::TarWriter.new(gzip) do |tar|
          add(tar, "class.json", JSON.pretty_generate(description(course, attempts)))
          attempts.each { |attempt| add(tar, "logs/#{attempt[:id]}.jsonl", log_of(attempt)) }
        end
        gzip.finish
      end
      io.string
    end

    # @param io [IO, StringIO] a .tar.gz
    # @yieldparam done [Integer] attempts brought in
    # @yieldparam total [Integer]
    # @return [Classes::Course] a new class of this owner
    # @raise [BadArchive]
    def unpack(owner, io, &progress)
      files = read(io)
      data =
        JSON.parse(
          files.fetch("class.json") { raise BadArchive, "There is no class.json in it." },
          symbolize_names: true
        )
      check_version(data)
      problems = Nurv::Shapes::ClassFile.problems(data)
      raise Nurv::DataError.new("class.json", problems) if problems.any?

      # Everything that takes long is done before the database is held: others write meanwhile.
      lay_facts_beside(data)
      people = ready(data.fetch(:people))
      attempts = read_attempts(data, files, progress)
      data.fetch(:exams).each { |row| check_exam(row) }
      @database.transaction { restore(owner, data, people, attempts) }
    rescue BadArchive
      raise
    rescue Nurv::DataError => error
      raise BadArchive,
        @stores
          .catalog
          .words
          .problems(error.problems.first(3))
          .map { |where, what| "#{error.path}: #{where} #{what}" }
          .join("; ")[0, 300]
    rescue => error
      # Whatever a file from outside makes go wrong, nothing of it was kept.
      warn "archive: #{error.class}: #{error.message.lines.first}"
      raise BadArchive, "It is not a class exported by Nurv, or it is damaged."
    end

    private

    def add(tar, name, text) = tar.add_file_simple(name, 0o644, text.bytesize) { |file| file.write(text) }

    def log_of(attempt) =
      @database[:events].where(attempt_id: attempt[:id]).order(:seq).select_map(:body).map { |body| "#{body}\n" }.join

    def description(course, attempts)
      ids =
        attempts.map { |attempt| attempt[:trainee_id] } |
        @database[:members].where(class_id: course.id).select_map(:user_id)
      {
        version: VERSION,
        name: course.name,
        people: @database[:users].where(id: ids).select_map(%i[id name]).map { |id, name| {id: id, name: name} },
        roster: @database[:members].where(class_id: course.id).select_map(:user_id),
        exams:
          @database[:exams]
            .where(class_id: course.id)
            .order(:id)
            .map { |row| stamped(row.except(:class_id, :owner_id, :opens_at, :problem)) },
        attempts: attempts.map { |row| stamped(row.slice(*ATTEMPT, *TIMES)).merge(trainee: row[:trainee_id]) },
        catalogs: catalogs_of(course, attempts),
        overrides:
          @database[:overrides]
            .where(attempt_id: attempts.map { |row| row[:id] })
            .order(:id)
            .map { |row| stamped(row.slice(:attempt_id, :line, :earned, :reason, :at)) }
      }
    end

    # @return [Hash{String => Hash}] what its benches and exams were held under, by digest
    def catalogs_of(course, attempts)
      digests = attempts.map { |row| row[:catalog] } + @database[:exams].where(class_id: course.id).select_map(:catalog)
      digests.compact.uniq.to_h { |digest| [digest, @stores.catalogs.fetch(digest).to_data] }
    end

    def check_version(data)
      raise BadArchive, "class.json should be a mapping." unless data.is_a?(Hash)
      return if READS.include?(data[:version])

      raise BadArchive,
        "It is of version #{data[:version].inspect[0, 20]}; this Nurv reads versions #{READS.join(" and ")}."
    end

    # Each exam and each bench is handed the facts it was held under; files of version 1 name none.
    def lay_facts_beside(data)
      catalogs = read_catalogs(data.fetch(:catalogs, {}))
      [*data.fetch(:exams), *data.fetch(:attempts)].each do |row|
        row[:facts] = row[:catalog] ? catalogs.fetch(row[:catalog]) : @stores.catalog
      end
    end

    # @return [Hash{String => Nurv::Catalog}] by the digest that rows of the file name
    def read_catalogs(list)
      raise BadArchive, "It has more than #{MOST_CATALOGS} catalogues." if list.size > MOST_CATALOGS

      list.to_h do |digest, facts|
        catalog = Nurv::Catalog.of(facts, @stores.catalog.words)
        Nurv::Catalog::Check.new(catalog).check!("catalogue #{digest}")
        [digest.to_s, catalog]
      end
    end

    def stamped(row) = row.transform_values { |value| value.is_a?(Time) ? value.utc.iso8601(3) : value }

    # Measured piece by piece while it is unpacked, since little can unpack to much.
    def read(io)
      raise BadArchive, "It is larger than #{MOST_BYTES / MB} MB." if io.size > MOST_BYTES

      total = 0
      Zlib::GzipReader.wrap(io) do |gzip|
        Gem::Package::TarReader
          .new(gzip)
          .each_with_object({}) do |entry, files|
            total += entry.header.size
            large = entry.header.size > MOST_ENTRY || total > MOST_UNPACKED || files.size > MOST_ENTRIES
            raise BadArchive, "It unpacks to too much." if large

            files[entry.full_name] = entry.read.to_s.dup.force_encoding("UTF-8")
          end
      end
    end

    # A PIN takes a while to hash, so that is done before the database is held.
    def ready(people)
      unless people.is_a?(Array) && people.size <= MOST_PEOPLE
        raise BadArchive, "It has more than #{MOST_PEOPLE} people."
      end

      people.map do |person|
        pin = Users.draw_pin
        {id: person.fetch(:id), name: Names.clean(person.fetch(:name))[0, 80], pin: pin, digest: Users.digest(pin)}
      end
    end

    def restore(owner, data, people, attempts)
      course = @stores.classes.create(owner, Names.clean(data.fetch(:name))[0, 80])
      users = @stores.users
      people =
        people.to_h do |person|
          [
            person[:id],
            users.create_trainee(person[:name], course.join_code, digest: person[:digest], card_pin: person[:pin]).id
          ]
        end
      data.fetch(:roster).each { |id| @database[:members].insert(class_id: course.id, user_id: people.fetch(id)) }
      exams = data.fetch(:exams).to_h { |row| [row.fetch(:id), restore_exam(owner, course, row)] }
      restored = {}
      attempts.each do |row, values, log|
        restored[row.fetch(:id)] = restore_attempt(owner, course, row, values, log, people, exams, restored)
      end
      data.fetch(:overrides).each { |row| restore_override(owner, row, restored) }
      course
    end

    # @return [Array<Array(Hash, Hash, Nurv::Bench::Log)>] each as it stands in the file, as a row, and its log
    def read_attempts(data, files, progress)
      list = data.fetch(:attempts)
      list.each_with_index.map do |row, index|
        log = Nurv::Bench::Log.parse(files.fetch("logs/#{row[:id]}.jsonl"), "log of attempt #{row[:id]}")
        progress&.call(index + 1, list.size)
        [row, attempt_values(row, log), log]
      end
    end

    def restore_override(owner, row, attempts)
      points = row.fetch(:earned)
      unless points.is_a?(Numeric) && points.to_f.finite? && points.between?(0, 1000)
        raise BadArchive, "An override gives #{points.inspect[0, 20]} points."
      end

      @database[:overrides].insert(
        attempt_id: attempts.fetch(row.fetch(:attempt_id)),
        user_id: owner.id,
        line: row.fetch(:line).to_s[0, 120],
        earned: points.to_f,
        reason: row.fetch(:reason).to_s[0, 2_000],
        at: time(row[:at])
      )
    end

    def check_exam(row)
      unless EXAM_STATES.include?(row[:status])
        raise BadArchive, "Exam #{row[:id]} is in a state this Nurv does not know."
      end

      Nurv::Grading::Policy.parse(row.fetch(:policy), "policy of exam #{row[:id]}")
      JSON
        .parse(row.fetch(:stations), symbolize_names: true)
        .each { |item| read_station(item.fetch(:body), row, "a station of exam #{row[:id]}") }
    end

    def read_station(body, row, name) = Nurv::Stations::Station.parse(body, row.fetch(:facts), name)

    # An exam that was running when it was exported is over here: nobody is at its benches.
    def restore_exam(owner, course, row)
      status = (row[:status] == Status::DRAFT) ? Status::DRAFT : Status::CLOSED
      @database[:exams].insert(
        title: row.fetch(:title).to_s[0, 80],
        seed: whole(row.fetch(:seed)),
        policy: row[:policy],
        stations: row[:stations],
        shuffled: row[:shuffled] == true,
        catalog: @stores.catalogs.keep(row.fetch(:facts)),
        status: status,
        class_id: course.id,
        owner_id: owner.id,
        **%i[created_at opened_at closed_at].to_h { |name| [name, time(row[name])] }
      )
    end

    def restore_attempt(owner, course, row, values, log, people, exams, attempts)
      id =
        @database[:attempts].insert(
          **values,
          trainee_id: people.fetch(row.fetch(:trainee)),
          instructor_id: owner.id,
          class_id: course.id,
          catalog: @stores.catalogs.keep(row.fetch(:facts)),
          exam_id: row[:exam_id] && exams.fetch(row[:exam_id]),
          retest_of: row[:retest_of] && attempts[row[:retest_of]]
        )
      insert_log(id, log)
      id
    end

    def policy_of(row)
      return Nurv::Grading::Policy.parse(row[:policy_body], "policy of attempt #{row[:id]}") if row[:policy_body]
      unless row.fetch(:facts).policies.key?(row.fetch(:policy).to_s.to_sym)
        raise BadArchive, "Attempt #{row[:id]} is under a policy this Nurv does not know."
      end
    end

    # Nobody is at a bench that comes out of a file: its clock stands where its log ends.
    def attempt_values(row, log)
      known = STATES.include?(row[:status]) && MODES.include?(row[:mode])
      raise BadArchive, "Attempt #{row[:id]} is in a state this Nurv does not know." unless known

      policy_of(row)
      station = read_station(row.fetch(:station_body), row, "station of attempt #{row[:id]}")
      values = {
        station_body: row[:station_body],
        station_title: station.title,
        seed: whole(row.fetch(:seed)),
        mode: row[:mode],
        policy: row.fetch(:policy),
        policy_body: row[:policy_body],
        status: row[:status],
        position: whole(row.fetch(:position, 0)),
        anchor_sim_ms: whole(row.fetch(:anchor_sim_ms, 0)),
        skipped_ms: whole(row.fetch(:skipped_ms, 0)),
        extra_ms: whole(row.fetch(:extra_ms, 0)),
        comment: row[:comment]&.to_s&.slice(0, 2_000),
        last_seq: log.size,
        **TIMES.to_h { |name| [name, time(row[name])] }
      }
      running = row[:status] == Status::STARTED
      over = running ? {status: Status::SUBMITTED, submitted_at: Clock.now} : {}
      values.merge(over, created_at: values[:created_at] || Clock.now)
    end

    def insert_log(id, log)
      @database[:events].multi_insert(
        log.each_with_index.map do |action, index|
          {
            attempt_id: id,
            seq: index + 1,
            action_id: action.id || "imported-#{index}",
            at_ms: action.at_ms,
            body: action.to_json,
            recorded_at: Clock.now
          }
        end
      )
    end

    def whole(value)
      unless value.is_a?(Integer) && value.abs < 10**12
        raise BadArchive, "#{value.inspect[0, 40]} should be a whole number."
      end

      value
    end

    def time(text) = text && Time.iso8601(text)
  end
end
