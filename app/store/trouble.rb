# frozen_string_literal: true

module Store
  # Why the database did not do what it was asked: what passes by itself, and what somebody has to see to.
  module Trouble
    REASONS = {
      "SQLite3::BusyException" => :busy,
      "SQLite3::LockedException" => :busy,
      "SQLite3::FullException" => :full,
      "SQLite3::IOException" => :unwritable,
      "SQLite3::ReadOnlyException" => :unwritable,
      "SQLite3::CantOpenException" => :unwritable,
      "SQLite3::PermissionException" => :unwritable
    }.freeze
    SENTENCES = {
      busy: "The server was busy and did not save this. Try again in a few seconds.",
      full: "The server's disk is full, so this was not saved. Tell the person who runs the server.",
      unwritable: "The server cannot write its data, so this was not saved. Tell the person who runs the server."
    }.freeze

    module_function

    # SQLite's exceptions arrive in Sequel's plain class of error.
    #
    # @param error [Exception]
    # @return [Symbol, nil] :busy, :full or :unwritable; nil for any other defect
    def reason(error)
      return :busy if error.is_a?(Sequel::DatabaseLockTimeout)

      cause = error.respond_to?(:wrapped_exception) ? error.wrapped_exception : error.cause
      REASONS[cause.class.name] || (:busy if error.is_a?(Sequel::DatabaseDisconnectError))
    end

    # @return [Boolean] it may go better in a moment
    def passing?(error) = reason(error) == :busy

    # @return [String, nil] for the person whose work was not saved
    def sentence(error) = SENTENCES[reason(error)]
  end
end
