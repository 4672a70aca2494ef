# frozen_string_literal: true

# A run of all specs looks at a part of what is many and alike; with NURV_ALL=1 at all of it.
module Sample
  ALL = !ENV["NURV_ALL"].nil?

  # @param list [Array]
  # @return [Array] one of each so many, another place of them in turn
  def self.of(list, every)
    return list if ALL

    list.each_slice(every).with_index.map { |some, turn| some[turn % some.size] }
  end

  # @return [Integer] how often
  def self.times(all, part) = ALL ? all : part
end
