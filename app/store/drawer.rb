# frozen_string_literal: true

module Store
  # One concept's rows in a cabinet, and the other drawers beside it.
  class Drawer
    # @param stores [Cabinet]
    def initialize(stores)
      @stores = stores
      @database = stores.database
    end
  end
end
