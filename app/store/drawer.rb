# frozen_string_literal: true

module Store
  # One concept's rows in a cabinet, and the other drawers beside it.
  class Drawer
    # @param stores [Cabinet]
    def initialize(stores)
      @stores = stores
      @database = stores.database
      @prepared = {}
    end

    private

    # A question that is asked every second: put to SQLite once, and answered from there on with values alone.
    #
    # @param name [Symbol] of its own among all
    # @yieldreturn [Sequel::Dataset] with placeholders
    # @return [Array<Hash>]
    def ask(name, **values)
      (@prepared[name] ||= yield.prepare(:select, name)).call(values)
    end
  end
end
