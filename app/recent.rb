# frozen_string_literal: true

# What was worked out a moment ago and is the same again, by all that it depends on; the oldest goes first. For threads.
class Recent
  # @param most [Integer] how many are kept
  def initialize(most)
    @most = most
    @kept = {}
    @lock = Mutex.new
  end

  # @param key [Object] all that it depends on
  # @return [Object, nil]
  def [](key) = @lock.synchronize { @kept[key] }

  # @return [Object] the value
  def keep(key, value)
    @lock.synchronize do
      @kept.shift if @kept.size >= @most
      @kept[key] = value
    end
  end

  # @yieldreturn [Object] what it is
  def fetch(key) = self[key] || keep(key, yield)
end
