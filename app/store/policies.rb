# frozen_string_literal: true

module Store
  # An instructor's own policies, and what they changed in the procedures.
  class Policies < Drawer
    def initialize(stores)
      super
      @rows = @database[:policies]
      @overlays = @database[:overlays]
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

    # @raise [Nurv::DataError] for what no overlay says
    def change_procedure(owner, procedure_id, overlay)
      body = JSON.generate(checked(Nurv::Facts.of(overlay), procedure_id))
      @overlays.insert_conflict(target: %i[owner_id procedure], update: {body: body}).insert(
        owner_id: owner.id,
        procedure: procedure_id.to_s,
        body: body
      )
    end

    # @return [Nurv::Grading::Policy] as it stands now for this owner, their procedures included
    def with_procedures(owner, policy) = Nurv::Grading::Policy.new({**policy.data, procedures: overlays(owner)})

    private

    def checked(overlay, procedure_id) = Nurv::Shapes::Overlay.check!(overlay, "changes of #{procedure_id}")
  end
end
