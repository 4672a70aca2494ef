# frozen_string_literal: true

module Store
  # Who did what to which thing, and when.
  class Audits
    def initialize(database = DB)
      @rows = database[:audits]
    end

    def note(user, act, subject, detail = nil)
      @rows.insert(user_id: user&.id, act: act, subject: subject, detail: detail, at: Time.now)
    end
  end
end
