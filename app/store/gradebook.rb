# frozen_string_literal: true

module Store
  # The results of a class, searched, sorted, filtered and paged in the database.
  class Gradebook
    PAGE = 50
    SORTS = {"name" => :name, "score" => Sequel[:grades][:score], "handed_in" => :submitted_at}.freeze
    STATES = [Status::ASSIGNED, Status::STARTED, Status::SUBMITTED, Status::PUBLISHED].freeze

    attr_reader :query, :sort, :state, :page

    # @param stores [Cabinet]
    # @param course [Classes::Course]
    def initialize(
      stores,
      course,
      query: "",
      sort: "name",
      descending: false,
      state: "",
      page: 1,
      practice: false,
      cases: false
    )
      @course = course
      @stores = stores
      @database = stores.database
      @query = query.to_s.strip
      @sort = SORTS.key?(sort) ? sort : "name"
      @descending = descending
      @state = STATES.include?(state) ? state : ""
      @practice = practice
      @cases = cases
      @page = [page.to_i, 1].max
    end

    def descending? = @descending

    def practice? = @practice

    # Whether the eight cases of how an RP protects count among the results.
    def cases? = @cases

    # @return [Array<Array(String, Drills::Predicted)>] name of each trainee who predicted some, and how it went
    def predicted
      return [] unless cases?

      @stores.classes.members(@course).filter_map do |member|
        found = @stores.drills.predicted(member)
        [member.name, found] if found && member.name.downcase.include?(query.downcase)
      end
    end

    def count = @count ||= scope.count

    def pages = [(count / PAGE.to_f).ceil, 1].max

    # @return [Array<Attempt>] this page's
    def attempts = all(scope.limit(PAGE, (page - 1) * PAGE))

    # @return [Array<Attempt>] every one that fits
    def everything = all(scope)

    private

    def all(rows) =
      rows
        .select_all(:attempts)
        .select_append(Sequel[:users][:name].as(:trainee_name))
        .map { |row| Attempt.new(row, @stores.catalogs, trainee_name: row[:trainee_name]) }
        .select(&:sound?)

    def scope
      rows =
        @database[:attempts]
          .where(class_id: @course.id)
          .join(:users, id: Sequel[:attempts][:trainee_id])
          .left_join(:grades, attempt_id: Sequel[:attempts][:id])
      rows = rows.exclude(status: Status::LEFT).where(drill: nil)
      rows = rows.exclude(mode: "practice") unless practice?
      rows = rows.where(status: state) unless state.empty?
      unless query.empty?
        rows =
          rows.where(
            Sequel.ilike(Sequel[:users][:name], "%#{rows.escape_like(query)}%") |
              Sequel.ilike(:station_title, "%#{rows.escape_like(query)}%")
          )
      end
      order = SORTS.fetch(sort)
      rows.order(
        @descending ? Sequel.desc(order, nulls: :last) : Sequel.asc(order, nulls: :last),
        Sequel[:attempts][:id]
      )
    end
  end
end
