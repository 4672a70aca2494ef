# frozen_string_literal: true

module Nurv
  # Root of everything the core raises on purpose.
  class Error < StandardError; end

  # A file of facts (station, log, procedure…) says something that cannot be. Carries every problem with its place.
  class DataError < Error
    attr_reader :path, :problems

    # @param path [String] the file, or a name for the text that was read
    # @param problems [Array<Array(String, [String, Remark])>] pairs of place and what is wrong there
    def initialize(path, problems)
      @path = path
      @problems = problems
      super(problems.map { |where, what| "#{path}: #{where}: #{what}" }.join("\n"))
    end
  end

  # An act that the bench cannot carry out; the bench is unchanged. Its remark says why.
  class RefusedAction < Error
    attr_reader :remark

    # @param id [Symbol] under `remarks` in data/words
    # @param values [Hash{Symbol => Object}] what belongs to it
    def initialize(id, **values)
      @remark = Remark.new(id, **values)
      super(@remark.to_s)
    end
  end

  # The integrator could not finish. Carries the state it stopped in, so that the case can be replayed.
  class SolverError < Error
    attr_reader :state

    # @param state [Hydraulics::State] where it stopped
    def initialize(message, state)
      @state = state
      super("#{message} at #{format("%.3f", state.time_s)} s; pressures #{state.pressures.map { |p| p.round(3) }}")
    end
  end
end
