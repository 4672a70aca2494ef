# frozen_string_literal: true

module Store
  # Who did what to which thing, and when.
  class Audits < Drawer
    def initialize(stores)
      super
      @rows = @database[:audits]
    end

    PAGE = 60

    # Newest first, with names; of one user, or of all.
    def of(user, page = 0)
      rows =
        @rows
          .left_join(:users, id: Sequel[:audits][:user_id])
          .select(Sequel[:audits][:at], :name, :act, :subject, :detail)
          .order(Sequel.desc(Sequel[:audits][:id]))
      rows = rows.where(user_id: user.id) if user
      rows.limit(PAGE, [page, 0].max * PAGE).all
    end

    def note(user, act, subject, detail = nil)
      @rows.insert(user_id: user&.id, act: act, subject: subject, detail: detail, at: Clock.now)
    end
  end
end
