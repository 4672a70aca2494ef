# frozen_string_literal: true

module Store
  # Stations as their owners keep them: the YAML text is what counts.
  class Stations < Drawer
    Row = Struct.new(:id, :owner_id, :title, :body, :catalog, keyword_init: true) do
      def station = @station ||= Attempt.station_of(body, catalog)
    end

    def initialize(stores)
      super
      @rows = @database[:stations]
    end

    def of(owner)
      catalog = @stores.catalogs.of(owner)
      @rows.where(owner_id: owner.id).order(:id).map { |row| wrap(row, catalog) }
    end

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

    # Attempts carry their own copy of it.
    def delete(row)
      @database[:attempts].where(station_id: row.id).update(station_id: nil)
      @rows.where(id: row.id).delete
    end

    private

    def wrap(row, catalog) = Row.new(**row.slice(:id, :owner_id, :title, :body), catalog: catalog)
  end
end
