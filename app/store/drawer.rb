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
    def ask(name, **values) = (@prepared[name] ||= yield.prepare(:select, name)).answers(name, values)

    # A change that comes with every act, put to SQLite once as well.
    #
    # @param name [Symbol] of its own among all
    # @yieldreturn [Sequel::Dataset] prepared under that name, to insert or to update
    # @return [Integer] rows changed
    def change(name, **values)
      @prepared[name] ||= yield
      @database.execute_dui(name, arguments: values)
    end
  end
end
