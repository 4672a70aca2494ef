# frozen_string_literal: true

module Store
  # Stations as their owners keep them: the YAML text is what counts.
  class Stations < Drawer
    Row = Struct.new(:id, :owner_id, :title, :body, :archived_at, :catalog, keyword_init: true) do
      def archived? = !archived_at.nil?

      def station = @station ||= Attempt.station_of(body, catalog)
    end

    def initialize(stores)
      super
      @rows = @database[:stations]
    end

    # @param archived [Boolean] those put away instead of those at hand
    def of(owner, archived: false)
      catalog = @stores.catalogs.of(owner)
      rows = @rows.where(owner_id: owner.id)
      rows = archived ? rows.exclude(archived_at: nil) : rows.where(archived_at: nil)
      rows.order(:id).map { |row| wrap(row, catalog) }
    end

    def archived_count(owner) = @rows.where(owner_id: owner.id).exclude(archived_at: nil).count

    # @return [Row, nil] only if this owner's
    def find(owner, id)
      row = @rows.first(owner_id: owner.id, id: id)
      row && wrap(row, @stores.catalogs.of(owner))
    end

    def create(owner, body)
      station = Nurv::Stations::Station.parse(body, @stores.catalogs.of(owner))
      @rows.insert(owner_id: owner.id, title: station.title, body: body, created_at: Clock.now)
    end

    def update(row, body)
      station = Nurv::Stations::Station.parse(body, row.catalog)
      @rows.where(id: row.id).update(title: station.title, body: body)
    end

    # @return [Boolean] an exam or a bench refers to it
    def used?(row) =
      @database[:exam_stations].where(station_id: row.id).any? || @database[:attempts].where(station_id: row.id).any?

    # Deletes a station that nothing refers to; one in use is archived.
    #
    # @return [Symbol] :deleted or :archived
    def put_away(row)
      @database.transaction do
        next archive(row, true) && :archived if used?(row)

        @rows.where(id: row.id).delete
        :deleted
      end
    end

    # @param archived [Boolean] false: it is at hand again
    def archive(row, archived) = @rows.where(id: row.id).update(archived_at: archived ? Clock.now : nil)

    # @param ids [Array<Integer>] of users
    # @return [Hash{Integer => Integer}] how many of these people were given each station as practice, by station
    def practised_by(ids) =
      @database[:attempts]
        .where(mode: "practice", trainee_id: ids)
        .exclude(station_id: nil)
        .select_group(:station_id)
        .select_append { count(trainee_id).distinct.as(people) }
        .as_hash(:station_id, :people)

    # @return [Integer] benches at it that are not an exam's
    def benches_at(row) = @database[:attempts].where(station_id: row.id, exam_id: nil).count

    private

    def wrap(row, catalog) = Row.new(**row.slice(:id, :owner_id, :title, :body, :archived_at), catalog: catalog)
  end
end
