# frozen_string_literal: true

module Store
  # An instructor's own policies, and what they changed in the procedures.
  class Policies < Drawer
    def initialize(stores)
      super
      @rows = @database[:policies]
      @overlays = @database[:overlays]
      @versions = @database[:adopted_procedures]
    end

    # @return [Hash{String => Nurv::Grading::Policy}] the shipped one first, then this owner's
    def of(owner)
      shipped = @stores.catalog.policies.to_h { |id, policy| [id.to_s, policy] }
      own =
        @rows
          .where(owner_id: owner.id)
          .order(:name)
          .to_h { |row| ["own-#{row[:id]}", Nurv::Grading::Policy.parse(row[:body])] }
      shipped.merge(own)
    end

    def create(owner, policy) = @rows.insert(owner_id: owner.id, name: policy.name, body: policy.to_json)

    # @return [Hash{Symbol => Hash}] by procedure: label, limits, points
    # @raise [Nurv::DataError] for one that was damaged
    def overlays(owner) =
      @overlays
        .where(owner_id: owner.id)
        .to_h { |row| [row[:procedure].to_sym, checked(Nurv::Facts.of(JSON.parse(row[:body])), row[:procedure])] }

    # From now on this owner's exams and benches are held under it. What was before stays as a version.
    #
    # @return [Integer] its version
    # @raise [Nurv::DataError] for what no overlay says
    def change_procedure(owner, procedure_id, overlay)
      @database.transaction do
        mine = @versions.where(owner_id: owner.id, procedure: procedure_id.to_s)
        version = mine.max(:version).to_i + 1
        body = JSON.generate(checked(Nurv::Facts.of({**overlay, version: version}), procedure_id))
        values = {owner_id: owner.id, procedure: procedure_id.to_s, body: body}
        @versions.insert(**values, version: version, kept_ms: Clock.wall_ms)
        @overlays.insert_conflict(target: %i[owner_id procedure], update: {body: body}).insert(**values)
        version
      end
    end

    # The shipped procedure is used again, as it is.
    def forget_procedure(owner, procedure_id) =
      @overlays.where(owner_id: owner.id, procedure: procedure_id.to_s).delete

    # A version that was kept: `version` [Integer]; `overlay` [Hash]; `kept_ms` [Integer]
    Version = Struct.new(:version, :overlay, :kept_ms)

    # @return [Array<Version>] the newest first
    def versions(owner, procedure_id) =
      @versions
        .where(owner_id: owner.id, procedure: procedure_id.to_s)
        .order(Sequel.desc(:version))
        .limit(50)
        .map { |row| Version.new(row[:version], Nurv::Facts.of(JSON.parse(row[:body])), row[:kept_ms]) }

    # @return [Nurv::Grading::Policy] as it stands now for this owner, their procedures and their unit included
    def with_procedures(owner, policy) =
      Nurv::Grading::Policy.new({**policy.data, unit: owner.units, procedures: overlays(owner)})

    # @return [Nurv::Grading::Policy] what this owner's trainees practise under
    def usual(owner) = with_procedures(owner, of(owner)["standard"])

    private

    def checked(overlay, procedure_id) = Nurv::Shapes::Overlay.check!(overlay, "changes of #{procedure_id}")
  end
end
