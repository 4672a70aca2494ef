# frozen_string_literal: true

require "zlib"

module Store
  # Catalogues of facts: the one that ships, each instructor's with their own facts added, and those that benches and
  # exams were held under, which stay as they were.
  class Catalogs < Drawer
    # Some have been changed often; those not asked for are read again.
    MOST = 40

    def initialize(stores)
      super
      @rows = @database[:catalogs]
      @own = @database[:own_facts]
      @made = {}
      @lock = Mutex.new
    end

    # @return [Nurv::Catalog]
    def shipped = @stores.catalog

    # @param owner [Users::User] an instructor
    # @return [Nurv::Catalog] what ships, with their own facts added
    def of(owner)
      with_own(own_text(owner))
    rescue Nurv::DataError => error
      # What ships may have changed under them; the settings page says what does not go together any more.
      warn "own facts of user #{owner.id}: #{error.message.lines.first&.strip}"
      shipped
    end

    # @param course [Classes::Course]
    # @return [Array<Nurv::Procedures::Procedure>] those its trainees may practise, as their instructor has adopted them
    def practised(course)
      teacher = @stores.users.find(course.owner_id)
      policy = @stores.policies.usual(teacher)
      known = of(teacher).procedures
      course.practises.filter_map { |id| known[id] && policy.adjust(known[id]) }
    end

    # @return [String] YAML; empty if they have none
    def own_text(owner) = @own.where(owner_id: owner.id).get(:body).to_s

    # @return [Array<Array(String, [String, Nurv::Remark])>] why their own facts are not used
    def problems_of(owner)
      with_own(own_text(owner))
      []
    rescue Nurv::DataError => error
      error.problems
    end

    # @param text [String] YAML: kind => list of facts; empty: none
    # @raise [Nurv::DataError] with everything that is wrong, and with each of their stations that needs what is gone
    def check_own(owner, text)
      catalog = with_own(text)
      problems = @stores.stations.of(owner).flat_map { |row| station_problems(row, catalog) }
      raise Nurv::DataError.new("own facts", problems) if problems.any?
    end

    # Takes an instructor's own facts in place of those they had.
    #
    # @raise [Nurv::DataError] see check_own
    def change_own(owner, text)
      check_own(owner, text)
      @database.transaction do
        @own.where(owner_id: owner.id).delete
        @own.insert(owner_id: owner.id, body: text) unless text.strip.empty?
      end
    end

    # @return [Array<Array(String, Nurv::Remark)>] faults among an instructor's own facts that no correct tester finds
    def unfindable(owner)
      text = own_text(owner)
      return [] if text.strip.empty?

      with_own(text).unfindable(Nurv::Facts.parse(text, "own facts"))
    end

    # One more of an instructor's own facts, or one in place of that with its id.
    #
    # @param kind [Symbol] of Nurv::Catalog::OWN
    # @param fact [Hash]
    # @return [true]
    # @raise [Nurv::DataError] see check_own
    def add_own(owner, kind, fact)
      text = own_text(owner)
      own = text.strip.empty? ? {} : Nurv::Facts.parse(text, "own facts")
      list = own.fetch(kind, []).reject { |one| one[:id].to_s == fact[:id] } + [fact]
      change_own(owner, YAML.dump(JSON.parse(JSON.generate(own.merge(kind => list)))))
      true
    end

    # @return [Array<Symbol>] ids of an instructor's own facts of a kind
    def own_ids(owner, kind)
      text = own_text(owner)
      return [] if text.strip.empty?

      Nurv::Facts.parse(text, "own facts").fetch(kind, []).map { |one| one[:id].to_sym }
    end

    # Keeps a catalogue as it is now, for a bench or an exam that begins under it.
    #
    # @param catalog [Nurv::Catalog]
    # @return [String] its digest
    def keep(catalog)
      if @rows.where(digest: catalog.digest).empty?
        body = Zlib::Deflate.deflate(JSON.generate(catalog.to_data))
        @rows.insert_conflict.insert(digest: catalog.digest, body: Sequel.blob(body), created_at: Clock.now)
      end
      catalog.digest
    end

    # @param digest [String, nil] nil: of a bench that is older than catalogues are kept
    # @return [Nurv::Catalog] as it was kept
    # @raise [KeyError]
    def fetch(digest)
      return shipped if digest.nil? || digest == shipped.digest

      remember(digest) do
        body = @rows.where(digest: digest).get(:body) or raise KeyError, "there is no catalogue #{digest}"
        Nurv::Catalog.of(JSON.parse(Zlib::Inflate.inflate(body)), shipped.words)
      end
    end

    # Benches and exams of a version that kept no catalogues were held under what ships now; another version may ship
    # otherwise.
    def pin
      @database.transaction do
        %i[attempts exams].each do |table|
          rows = @database[table].where(catalog: nil)
          rows.update(catalog: keep(shipped)) if rows.any?
        end
      end
    end

    private

    # Putting a catalogue together and checking it takes half a second, so it is done once for each text.
    def with_own(text)
      return shipped if text.strip.empty?

      remember("own/#{text}") { shipped.with(Nurv::Facts.parse(text, "own facts")) }
    end

    def station_problems(row, catalog)
      Nurv::Stations::Station.parse(row.body, catalog, row.title)
      []
    rescue Nurv::DataError => error
      error.problems.map { |where, what| ["#{row.title}: #{where}", what] }
    end

    def remember(key)
      @lock.synchronize { @made[key] } ||
        yield.tap do |catalog|
          @lock.synchronize do
            @made.shift if @made.size >= MOST
            @made[key] = catalog
          end
        end
    end
  end
end
