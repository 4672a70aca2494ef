# frozen_string_literal: true

module Store
  # All that is kept in one database, a store for each concept, and the facts that it is read by. Made once, where the
  # application is put together, and handed on from there.
  class Cabinet
    attr_reader :database, :catalog

    # @param database [Sequel::Database]
    # @param catalog [Nurv::Catalog]
    def initialize(database, catalog)
      @database = database
      @catalog = catalog
    end

    def archive = @archive ||= Archive.new(self)

    def attempts = @attempts ||= Attempts.new(self)

    def audits = @audits ||= Audits.new(self)

    def boards = @boards ||= Boards.new(self)

    def catalogs = @catalogs ||= Catalogs.new(self)

    def classes = @classes ||= Classes.new(self)

    def drills = @drills ||= Drills.new(self)

    def exams = @exams ||= Exams.new(self)

    def grades = @grades ||= Grades.new(self)

    def health = @health ||= Health.new(self)

    def jobs = @jobs ||= Jobs.new(self)

    def proofs = @proofs ||= Proofs.new(self)

    def policies = @policies ||= Policies.new(self)

    def sessions = @sessions ||= Sessions.new(self)

    def setup_code = @setup_code ||= SetupCode.new(self)

    def stations = @stations ||= Stations.new(self)

    def tries = @tries ||= Tries.new(self)

    def users = @users ||= Users.new(self)

    def visits = @visits ||= Visits.new(self)

    # @param course [Classes::Course]
    # @param filter [Hash] see Gradebook
    def gradebook(course, **filter) = Gradebook.new(self, course, **filter)
  end
end
